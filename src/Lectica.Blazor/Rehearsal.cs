using Lectica.Commands;
using Lectica.Frames;
using Lectica.Input;
using Lectica.Layout;

namespace Lectica.Blazor;

/// <summary>
/// Does what users do, once, on a list that nobody sees. In a browser the runtime translates code as it first runs it, which takes longer
/// than what the code does: without a rehearsal the first menu or the first removal is felt as a halt. The list is one of some of the same
/// items, with the functions by which the app describes them; those by which it changes anything are left out.
/// </summary>
internal sealed class Rehearsal<TItem, TKey> where TKey : notnull
{
    private const int Most = 4;

    // Lists of the same types run the same code.
    private static bool _isDone;

    private readonly InteractiveList<TItem, TKey> _list;
    private double _time;

    private Rehearsal(InteractiveList<TItem, TKey> like, TItem[] items, TKey[] keys)
    {
        _list = InteractiveList.Of(
            items.ToList(), item => keys[Array.IndexOf(items, item)], like.Options with { Viewport = new(480, 400) });
        _list.Content = like.Content;
        _list.Marks = [.. like.Marks.Select(m => m with { Get = null, Set = null, SetMany = null, Count = null })];
        _list.Columns = like.Columns;
        _list.Commands =
        [
            new("nothing", "Nothing") { Chords = [new("n", Modifiers.Alt)], Do = _ => { }, Inverse = _ => { } },
            new("remove", "Remove")
            {
                ShowIn = ShowIn.Menu | ShowIn.TrailingTray | ShowIn.Toolbar, Chords = [new("Delete")], Notice = _ => "Removed",
                Do = _list.TakeOut, Inverse = _list.PutBack,
            },
        ];
        _list.Announced += (_, _) => { };
        _list.SelectionChanged += (_, _) => { };
    }

    /// <summary>
    /// Rehearses step by step, with a pause after each; it ends early where it is told to, or where the app's functions fail.
    /// </summary>
    /// <param name="like">The list that is on show.</param>
    /// <param name="pause">Waits until there is time for a step; gives false where it is to end.</param>
    /// <returns>Whether all of it was rehearsed.</returns>
    public static async Task<bool> Run(InteractiveList<TItem, TKey> like, Func<Task<bool>> pause)
    {
        // A page has other things to do in its first moments.
        for (var i = 0; i < 5; i++)
            if (_isDone || !await pause()) return false;
        RowFrame[] rows = [.. like.Frame.Rows.Where(r => r.Index >= 0 && r.Reading == RowReading.Done).Take(Most)];
        TItem[] items = [.. rows.Select(r => like[r.Index])];
        if (items.Length < 3 || items.Distinct().Count() < items.Length || like.Options.Layout != ListLayout.Rows) return false;
        _isDone = true;
        Rehearsal<TItem, TKey>? one = null;
        try
        {
            one = new(like, items, [.. rows.Select(r => like.KeyAt(r.Index))]);
            foreach (var _ in one.Steps())
                if (!await pause()) return false;
            return true;
        }
        catch (Exception e) when (e is not OutOfMemoryException)
        {
            // What fails here fails again where it counts, and is told there.
            return false;
        }
        finally
        {
            one?._list.Dispose();
        }
    }

    // Each step ends with the frame that a host would draw.
    private IEnumerable<Frame> Steps()
    {
        _list.Focus();
        yield return _list.Frame;
        Stroke(PointerType.Mouse, (200, 80), (200, 80));
        yield return _list.Frame;
        yield return Press("ArrowDown");
        yield return Press("ArrowDown", Modifiers.Shift);
        yield return Press("ArrowUp", Modifiers.Ctrl);
        yield return Press("a", Modifiers.Ctrl);
        yield return Press("Home");
        yield return Press("F10", Modifiers.Shift);
        yield return Press("ArrowDown");
        yield return Press("Escape");
        // What any command runs before what this one does, so that neither step is a long one.
        yield return Press("n", Modifiers.Alt);
        yield return Press("z", Modifiers.Ctrl);
        yield return Press("Delete");
        yield return Press("z", Modifiers.Ctrl);
        yield return Press("ArrowDown", Modifiers.Alt);
        yield return Press("z", Modifiers.Ctrl);
        _ = _list.ToolbarFor(400);
        if (!_list.Marks.IsDefaultOrEmpty) _list.ToggleMark(_list.Marks[0].Name, _list.KeyAt(0));
        yield return _list.Frame;
        Stroke(PointerType.Touch, (300, 80), (180, 80));
        yield return _list.Frame;
        yield return Press("Escape");
        // A long press opens the menu.
        Take(SampleKind.Down, PointerType.Touch, 200, 80);
        _list.Advance(_time += 1000);
        yield return _list.Frame;
        Take(SampleKind.Up, PointerType.Touch, 200, 80);
        yield return Press("Escape");
        if (_list.Frame.Rows[0].Parts.FirstOrDefault(p => p.Part.Kind == PartKind.Handle) is { } handle)
        {
            var (x, y) = (handle.Left + (handle.Width / 2), _list.Frame.Rows[0].Top + 20);
            Take(SampleKind.Down, PointerType.Mouse, x, y);
            for (var i = 1; i <= 8; i++)
            {
                Take(SampleKind.Move, PointerType.Mouse, x, y + (12 * i));
                if (i % 4 == 0) yield return _list.Frame;
            }
            Take(SampleKind.Up, PointerType.Mouse, x, y + 96);
            yield return _list.Frame;
        }
        _list.Advance(_time += 60_000);
        yield return _list.Frame;
    }

    private Frame Press(string key, Modifiers modifiers = Modifiers.None)
    {
        _list.Take(new KeyPress(key, modifiers, _time += 100));
        return _list.Frame;
    }

    private void Take(SampleKind kind, PointerType type, double x, double y) =>
        _list.Take(new PointerSample(kind, 1, type, x, y, _time += 16) { Buttons = kind == SampleKind.Up ? 0 : 1 });

    private void Stroke(PointerType type, (double X, double Y) from, (double X, double Y) to)
    {
        Take(SampleKind.Down, type, from.X, from.Y);
        for (var i = 1; i <= 6 && from != to; i++)
            Take(SampleKind.Move, type, from.X + ((to.X - from.X) * i / 6), from.Y + ((to.Y - from.Y) * i / 6));
        Take(SampleKind.Up, type, to.X, to.Y);
    }
}
