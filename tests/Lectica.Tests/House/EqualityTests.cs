using System.Collections.Immutable;
using System.Linq.Expressions;
using System.Reflection;
using System.Runtime.CompilerServices;
using Lectica.Frames;

namespace Lectica.Tests.House;

/// <summary>
/// Whatever a value holds counts where it is compared. Where the compiler writes the comparison that is so; here are those that are written
/// by hand, which forget what is added later. A host that compares what it has drawn would then show what was.
/// </summary>
public sealed class EqualityTests(ITestOutputHelper output)
{
    private static readonly Assembly[] Assemblies = [typeof(InteractiveList).Assembly, typeof(Testing.Recording).Assembly,
        typeof(Skia.FramePainter).Assembly];

    [Fact]
    public void Values_that_differ_in_anything_are_not_equal()
    {
        var (types, forgotten, tried) = (0, new List<string>(), 0);
        foreach (var type in Assemblies.SelectMany(a => a.GetExportedTypes()).Where(IsComparedByHand))
        {
            var closed = type.IsGenericTypeDefinition
                ? type.MakeGenericType([.. type.GetGenericArguments().Select(_ => typeof(string))]) : type;
            var one = Empty(closed);
            object Clone() => closed.GetMethod("<Clone>$")!.Invoke(one, null)!;
            // What holds functions is itself alone.
            if (!one.Equals(Clone())) continue;
            types++;
            foreach (var property in closed.GetProperties(BindingFlags.Public | BindingFlags.NonPublic | BindingFlags.Instance))
            {
                if (property.SetMethod is null) continue;
                var other = Clone();
                property.SetValue(other, Another(property.PropertyType, property.GetValue(one)));
                tried++;
                Assert.NotEqual(property.GetValue(one), property.GetValue(other));
                if (one.Equals(other)) forgotten.Add($"{type.Name}.{property.Name}");
            }
        }
        output.WriteLine($"{tried} properties of {types} types");
        Assert.True(types >= 10 && tried >= 60, $"{tried} properties of {types} types");
        Assert.True(forgotten.Count == 0, string.Join("\n", forgotten));
    }

    [Fact]
    public void A_frame_tells_whatever_is_other_around_its_rows()
    {
        var frame = (Frame)Empty(typeof(Frame));
        var (same, other) = (new List<string>(), 0);
        foreach (var property in typeof(Frame).GetProperties().Where(p => p.SetMethod is not null))
        {
            var changed = frame with { };
            property.SetValue(changed, Another(property.PropertyType, property.GetValue(frame)));
            if (changed.IsSameAround(frame) && frame.IsSameAround(changed)) same.Add(property.Name);
            else other++;
        }
        Assert.Equal(["Grab", "Kept", "Rows", "Viewport"], same.Order());
        Assert.True(other >= 18, $"{other}");
    }

    private static bool IsComparedByHand(Type type) =>
        type is { IsClass: true, IsAbstract: false } && type.GetMethod("<Clone>$") is not null
        && type.GetMethods().Any(m => m.Name == "Equals" && m.GetParameters() is [var p] && p.ParameterType == type
            && m.GetCustomAttribute<CompilerGeneratedAttribute>() is null);

    private static object? Another(Type type, object? now)
    {
        if (Nullable.GetUnderlyingType(type) is { } underlying) return now is null ? Activator.CreateInstance(underlying) : null;
        if (type == typeof(string)) return now + "x";
        if (now is bool flag) return !flag;
        if (type.IsEnum) return Enum.ToObject(type, Convert.ToInt32(now, null) + 1);
        if (now is IConvertible number) return Convert.ChangeType(Convert.ToDouble(number, null) + 1, type, null);
        if (Holding(type, 1) is { } holding) return holding;
        if (typeof(Delegate).IsAssignableFrom(type))
        {
            var takes = type.GetMethod("Invoke")!;
            var parameters = takes.GetParameters().Select(p => Expression.Parameter(p.ParameterType)).ToArray();
            return Expression.Lambda(type, Expression.Default(takes.ReturnType), parameters).Compile();
        }
        if (!type.IsValueType) return Empty(type);
        // Of a value, the first thing that it holds is another.
        var field = type.GetFields(BindingFlags.Public | BindingFlags.NonPublic | BindingFlags.Instance)[0];
        field.SetValue(now, Another(field.FieldType, field.GetValue(now)));
        return now;
    }

    /// <summary>One that holds nothing.</summary>
    private static object Empty(Type type)
    {
        var one = RuntimeHelpers.GetUninitializedObject(type);
        foreach (var property in type.GetProperties())
            if (property.SetMethod is not null && Holding(property.PropertyType, 0) is { } none) property.SetValue(one, none);
        return one;
    }

    /// <summary>A collection of so many; null where the type is none.</summary>
    private static object? Holding(Type type, int count)
    {
        var held = type.GetGenericArguments();
        if (type.IsInterface && held.Length == 2)
        {
            var dictionary = (System.Collections.IDictionary)Activator.CreateInstance(typeof(Dictionary<,>).MakeGenericType(held))!;
            if (count > 0) dictionary.Add(Another(held[0], null)!, null);
            return dictionary;
        }
        if (held.Length != 1 || !(type.IsInterface || type.GetGenericTypeDefinition() == typeof(ImmutableArray<>))) return null;
        var items = Array.CreateInstance(held[0], count);
        return type.IsInterface ? items
            : Activator.CreateInstance(type, BindingFlags.NonPublic | BindingFlags.Instance, null, [items], null);
    }
}
