using Lectica.Input;
using Lectica.Layout;

namespace Lectica;

// What hosts tell the list: pointers, keys, the window; and what they ask.
public sealed partial class InteractiveList<TItem, TKey>
{
    /// <inheritdoc/>
    public Response Take(PointerSample sample)
    {
        var turns = _parts.Turns;
        // Without a closure: a move that changes nothing allocates nothing.
        if (!turns.TryEnter()) return TakeLater(sample);
        try
        {
            return _parts.Pointing.Take(sample);
        }
        catch
        {
            turns.Fail();
            throw;
        }
        finally
        {
            turns.Leave();
        }
    }

    private Response TakeLater(PointerSample sample) => Run(p => p.Pointing.Take(sample));

    /// <inheritdoc/>
    public Response Take(KeyPress press) => Run(p => p.Keyboard.Take(press));

    /// <inheritdoc/>
    public bool WouldTake(KeyPress press) => Here.Keyboard.WouldTake(press);

    /// <inheritdoc/>
    public double? NextDeadline => Here.NextDeadline;

    /// <inheritdoc/>
    public bool CallsItself => _parts.Turns.HasContext;

    /// <inheritdoc/>
    public Response Advance(double time) => Run(p =>
    {
        p.Pointing.AdvanceTo(time);
        p.Finder.GoOnAt(time);
        p.Sorter.GoOnAt(time);
        return Response.Handled;
    });

    /// <inheritdoc/>
    public bool IsCalledBack
    {
        get => Here.Core.IsCalledBack;
        // A host lets go of a list that is gone already, too.
        set => _parts.Core.IsCalledBack = value;
    }

    /// <inheritdoc/>
    public bool HoldsPointer => Here.HoldsPointer;

    /// <inheritdoc/>
    public void Focus() => Set(p => p.Keyboard.Focus());

    /// <summary>Tells what is used where another element takes it: a pointer or the keys.</summary>
    internal void Use(bool byPointer) => Set(p => p.Actor.Use(byPointer));

    /// <inheritdoc/>
    public void Blur() => Set(p => p.Keyboard.Blur());

    /// <inheritdoc/>
    public void ScrollTo(double top) => _parts.Turns.Run(static (to, _) =>
    {
        to.Scroller.ScrollTo(to.top);
        return Response.Handled;
    }, (_parts.Scroller, top));

    /// <inheritdoc/>
    public void Resize(double width, double height)
    {
        if (!(width > 0) || !(height > 0) || !double.IsFinite(width) || !double.IsFinite(height))
            throw new ArgumentOutOfRangeException(
                nameof(width), $"A viewport of {width} by {height} px shows nothing: both sides must be more than 0.");
        Set(p =>
        {
            var turned = Axes.Turned(new(width, height), Options.Layout);
            p.Scroller.Show(p.Core.Viewport with { Width = turned.Width, Height = turned.Height });
        });
    }

    /// <inheritdoc/>
    public void ScaleText(double scale)
    {
        if (!(scale is >= 0.25 and <= 8))
            throw new ArgumentOutOfRangeException(nameof(scale), scale, "Text is from a quarter to eight times as large as usual.");
        Set(p => p.Core.Commit(p.Core.State with { Window = p.Core.State.Window with { TextScale = scale } }));
    }

    /// <inheritdoc/>
    public void UseModKey(ModKey modKey)
    {
        if (!Enum.IsDefined(modKey)) throw new ArgumentOutOfRangeException(nameof(modKey), modKey, "Mod is Ctrl or Meta.");
        Set(p => p.Core.UseModKey(modKey));
    }

    /// <inheritdoc/>
    public void HoldNotice(bool holds, double time) => Set(p => p.Feedback.Hold(holds, time));

    /// <inheritdoc/>
    public void ShowIn(HostWindow window)
    {
        if (!(window.Width > 0) || !(window.Height > 0))
            throw new ArgumentOutOfRangeException(nameof(window), window, "A window is wider and higher than 0 px.");
        Set(p => p.Core.Commit(p.Core.State with { Window = p.Core.State.Window with { Host = window } }));
    }

    /// <summary>
    /// Takes how high rows are drawn, for hosts whose rows are as high as their content needs. What is looked at stays where it is, and a
    /// row that was just brought into view stays in view. Heights belong to items and follow them; keys that are not in the list are left
    /// out. Cost: the number of all that have been measured.
    /// </summary>
    /// <param name="heights">Heights in px, by the items' keys.</param>
    /// <exception cref="ArgumentOutOfRangeException">A height is not more than 0, or too high; nothing has changed then.</exception>
    public void Measure(IEnumerable<KeyValuePair<TKey, double>> heights)
    {
        ArgumentNullException.ThrowIfNull(heights);
        var all = heights.ToList();
        foreach (var (key, height) in all)
            if (!ListOptions.IsHeight(height))
                throw new ArgumentOutOfRangeException(nameof(heights), height,
                    $"The row of '{Here.Store.TextOf(key)}' cannot be {height} px high: a row is higher than 0 " +
                        $"px, and {ListOptions.HighestRow} px at most.");
        Set(p => p.Scroller.Measure(all.Select(h => (Index: p.Store.IndexOf(h.Key), h.Value)).Where(h => h.Index >= 0)));
    }

    void IHostedList.Measure(IEnumerable<KeyValuePair<string, double>> heights)
    {
        var rows = Frame.Rows.AddRange(Frame.Kept).Where(r => r.KeyText is not null).ToLookup(r => r.KeyText!, r => r.Index);
        Measure(heights.Where(h => rows.Contains(h.Key)).Select(h => KeyValuePair.Create(KeyAt(rows[h.Key].First()), h.Value)));
    }

    string IHostedList.LabelOf(string mark) => Here.Core.State.Declared.Marks.FirstOrDefault(m => m.Name == mark)?.Label ?? mark;

    IEnumerable<KeyChord> IHostedList.Chords =>
        [.. Options.Keys.Rules.Select(r => r.Chord), .. Here.Book.Commands.SelectMany(c => c.Chords)];

    bool IHostedList.HasSections => Here.Projection.Sections is not null;
}
