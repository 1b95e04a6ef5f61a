using CsCheck;
using Lectica.Acts;
using Lectica.Input;
using Lectica.Layout;

namespace Lectica.Tests.Lists;

/// <summary>Lists, scroll positions, viewports and keys at random.</summary>
internal static class Any
{
    internal sealed record Thing(string Id, string Name, bool IsShown, bool IsEnabled);

    public static readonly Gen<string> Key = Gen.Char.AlphaNumeric.Array[1, 6].Select(c => new string(c));

    public static readonly Gen<Thing[]> Things = Gen.Select(Key, Gen.String[0, 12], Gen.Int[0, 9], Gen.Int[0, 9],
        (key, name, shown, enabled) => new Thing(key, name, shown > 2, enabled > 1))
        .Array[0, 60].Select(things => things.DistinctBy(t => t.Id).ToArray());

    public static readonly Gen<RowParts> Parts = Gen.Select(Gen.Bool, Gen.Int[0, 2], Gen.Bool, Gen.Bool,
        (check, marks, menu, handle) =>
            new RowParts { Check = check, Marks = [.. new[] { "done", "starred" }.Take(marks)], Menu = menu, Handle = handle });

    public static readonly Gen<ListOptions> Options = Gen.Select(
        Gen.Enum<SelectionMode>(), Parts, Gen.Double[260, 900], Gen.Double[30, 700], Gen.Double[20, 90], Gen.Bool, Gen.Int[1, 8], Gen.Bool,
        (mode, parts, width, height, row, rightToLeft, limit, keeps) => new ListOptions
        {
            Mode = mode,
            Parts = parts,
            Viewport = new(width, height),
            RowHeight = row,
            IsRightToLeft = rightToLeft,
            Limit = limit == 8 ? int.MaxValue : limit,
            KeepsHiddenSelected = keeps,
            ModKey = ModKey.Ctrl,
        });

    public static readonly Gen<(Thing[] Things, ListOptions Options, double Scroll)> List = Gen.Select(Things, Options, Gen.Double[0, 1]);

    public static InteractiveList<Thing, string> Open(Thing[] things, ListOptions options, double scroll = 0)
    {
        var list = InteractiveList.Awaiting<Thing, string>(t => t.Id, options);
        list.Content = t => new(t.Name);
        list.Filter = t => t.IsShown;
        list.EnabledWhen = t => t.IsEnabled;
        list.Show(things);
        list.ScrollTo(scroll * Math.Max(0, (list.Rows.Count * options.RowHeight) - options.Viewport.Height));
        return list;
    }

    public static void Tap<TItem, TKey>(
        InteractiveList<TItem, TKey> list, double x, double y, PointerType type, double time = 0, Modifiers modifiers = Modifiers.None)
        where TKey : notnull
    {
        list.Take(PointerSample.Down(type, x, y, time, modifiers));
        list.Take(PointerSample.Up(type, x, y, time + 80, modifiers));
    }
}
