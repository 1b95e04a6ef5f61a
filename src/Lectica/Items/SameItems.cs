using System.Runtime.CompilerServices;
using System.Runtime.InteropServices;

namespace Lectica.Items;

/// <summary>Compares items by what they are: the very same objects or, where they are values, equal ones.</summary>
internal static class SameItems
{
    /// <summary>How many are the same from the start of both on, as many as the shorter has. Cost: one look at each.</summary>
    public static int From<T>(ReadOnlySpan<T> some, ReadOnlySpan<T> others)
    {
        var length = Math.Min(some.Length, others.Length);
        var i = 0;
        if (typeof(T).IsValueType)
        {
            while (i < length && EqualityComparer<T>.Default.Equals(some[i], others[i])) i++;
            return i;
        }
        // As plain objects: an interpreter, as in a browser, runs a loop over items of a type that it has to look up at half the speed.
        ReadOnlySpan<object?> a = AsObjects(some[..length]), b = AsObjects(others[..length]);
        while (i < a.Length && ReferenceEquals(a[i], b[i])) i++;
        return i;
    }

    private static ReadOnlySpan<object?> AsObjects<T>(ReadOnlySpan<T> items) =>
        MemoryMarshal.CreateReadOnlySpan(ref Unsafe.As<T, object?>(ref MemoryMarshal.GetReference(items)), items.Length);
}
