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

    /// <summary>The same from the end of both on.</summary>
    public static int FromEnd<T>(ReadOnlySpan<T> some, ReadOnlySpan<T> others)
    {
        var length = Math.Min(some.Length, others.Length);
        var i = 0;
        if (typeof(T).IsValueType)
        {
            while (i < length && EqualityComparer<T>.Default.Equals(some[^(i + 1)], others[^(i + 1)])) i++;
            return i;
        }
        ReadOnlySpan<object?> a = AsObjects(some[^length..]), b = AsObjects(others[^length..]);
        while (i < a.Length && ReferenceEquals(a[^(i + 1)], b[^(i + 1)])) i++;
        return i;
    }

    /// <summary>Whether both are the very same object, and no values.</summary>
    public static bool IsSameObject<T>(T a, T b) => !typeof(T).IsValueType && a is not null && ReferenceEquals(a, b);

    private static ReadOnlySpan<object?> AsObjects<T>(ReadOnlySpan<T> items) =>
        MemoryMarshal.CreateReadOnlySpan(ref Unsafe.As<T, object?>(ref MemoryMarshal.GetReference(items)), items.Length);
}
