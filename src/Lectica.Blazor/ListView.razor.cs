using System.Collections.Immutable;
using Lectica.Acts;
using Lectica.Frames;
using Lectica.Input;
using Lectica.Items;
using Lectica.Layout;
using Microsoft.AspNetCore.Components;
using Microsoft.JSInterop;

namespace Lectica.Blazor;

/// <summary>
/// A list in a browser. It holds no list logic: it turns the browser's events into samples and keys, and frames into elements. Rows are a listbox where they are plain, and a grid
/// where they hold controls or stand in sections, since a listbox's options may hold none (WAI-ARIA).
/// </summary>
public sealed partial class ListView<TItem, TKey> : ComponentBase, IAsyncDisposable where TKey : notnull
{
    private static int _made;
    private readonly ScrollScale _scale = new();
    private readonly Func<string, string> _markLabelOf;
    private ElementReference _viewport;
    private RowsElement<TItem>? _rows;
    private IScript? _script;
    private string? _active;
    private InteractiveList<TItem, TKey>? _bound;
    private Frame? _drawn;
    private ListLook<TItem>? _look;
    private ImmutableArray<Commands.Command<TItem, TKey>> _expected;
    private bool _taking, _changed, _scrollDue;
    private int _version;
    private CancellationTokenSource? _waiting;
    private double? _due;
    private double _scrolled, _time;
    private long _timeAt;
    private bool _hadMenu, _disposed;

    /// <summary>A component that shows no list yet.</summary>
    public ListView() => _markLabelOf = name => List.Marks.FirstOrDefault(m => m.Name == name)?.Label ?? name;

    /// <summary>The list.</summary>
    [Parameter, EditorRequired] public InteractiveList<TItem, TKey> List { get; set; } = null!;

    /// <summary>Its accessible name; the list's title where null.</summary>
    [Parameter] public string? Label { get; set; }

    /// <summary>More CSS classes for its outermost element.</summary>
    [Parameter] public string? Class { get; set; }

    /// <summary>The height of the viewport, in CSS; that of the style sheet where null.</summary>
    [Parameter] public string? Height { get; set; }

    /// <summary>The id of the viewport's element.</summary>
    [Parameter] public string Id { get; set; } = $"lectica-{Interlocked.Increment(ref _made)}";

    /// <summary>Whether title, subtitle and the box that selects all show above the rows.</summary>
    [Parameter] public bool ShowsHeader { get; set; } = true;

    /// <summary>Draws an item's body; its label and detail where null.</summary>
    [Parameter] public RenderFragment<RowContext<TItem>>? Row { get; set; }

    /// <summary>Draws a heading; its title and number where null.</summary>
    [Parameter] public RenderFragment<RowFrame>? Heading { get; set; }

    /// <summary>Draws a notice; its text where null.</summary>
    [Parameter] public RenderFragment<RowFrame>? Notice { get; set; }

    /// <summary>Draws a menu entry; its label and keys where null.</summary>
    [Parameter] public RenderFragment<Commands.MenuEntry>? MenuEntry { get; set; }

    [Inject] private IJSRuntime Js { get; set; } = null!;

    private bool IsGrid => List.Parts is var parts && (parts.Check || parts.Menu || parts.Handle || !parts.Marks.IsDefaultOrEmpty || List.Sections is not null);

    private string IdOf(RowFrame row) => row.Index >= 0 ? $"{Id}-{row.Index}" : $"{Id}-{row.Kind.ToString().ToLowerInvariant()}-{row.Row.Value}";

    private RowsLook<TItem> RowsOf(Frame frame)
    {
        var look = new ListLook<TItem>(IsGrid, frame.RowCount, List.Parts,
            (List.TouchActionOf(PartKind.Check), List.TouchActionOf(PartKind.Mark), List.TouchActionOf(PartKind.Handle), List.TouchActionOf(PartKind.Menu)),
            List.Options.Phrases, _markLabelOf, Row, Heading, Notice, _version);
        // The same object while it is the same: rows compare it by reference.
        if (!look.Equals(_look)) _look = look;
        return new(frame, _scale.Offset, _look!, List.IsGrabbing, InDocumentOrder, KeyOf, LookOf);
    }

    private object KeyOf(RowFrame row) => row.Index >= 0 ? List.KeyAt(row.Index) : (row.Kind, row.Section);

    private RowLook<TItem> LookOf(RowFrame row)
    {
        var top = List.Viewport.ScrollTop + row.Top - _scale.Offset;
        return row.Index < 0 ? new(row, IdOf(row), top, default, null, _look!) : new(row, IdOf(row), top, List[row.Index], List.KeyTextAt(row.Index), _look!);
    }

    /// <summary>
    /// Rows as they stand, but while something is grabbed as they stood: a browser takes a finger's pointer back when the element under it is moved in the document.
    /// </summary>
    private IEnumerable<RowFrame> InDocumentOrder(Frame frame)
    {
        var rows = frame.Kept.IsEmpty ? frame.Rows : frame.Rows.AddRange(frame.Kept);
        if (!List.IsGrabbing) return frame.Kept.IsEmpty ? rows : rows.OrderBy(r => r.Row.Value);
        if (List.Sections is null) return rows.OrderBy(r => r.Index);
        return rows.OrderBy(row => (row.Index >= 0 ? List.Rows.RowOf(row.Index) : List.Rows.HeadingOf(List.Rows.SectionWith(row.Section ?? "")))?.Value ?? row.Row.Value);
    }

    private string? ActiveDescendant(Frame frame)
    {
        if (frame.Rows.Concat(frame.Kept).FirstOrDefault(r => r.IsCursor) is not { } row) return null;
        return List.CursorPart is { Kind: not PartKind.Body } part && row.Kind == RowKind.Item ? $"{IdOf(row)}-{part.ToString().Replace(':', '-')}" : IdOf(row);
    }

    /// <inheritdoc/>
    protected override void OnParametersSet()
    {
        // What a template draws may depend on whatever has changed around it.
        if (Row is not null || Heading is not null || Notice is not null) _version++;
        if (ReferenceEquals(_bound, List)) return;
        Unbind();
        _bound = List;
        List.FrameChanged += Changed;
        List.Announced += Said;
        Fit();
        // Another list is as large as the one before it.
        if (_size is { } size) List.Resize(size.Width, size.Height);
    }

    private (double Width, double Height)? _size;

    private void Unbind()
    {
        if (_bound is null) return;
        _bound.FrameChanged -= Changed;
        _bound.Announced -= Said;
    }

    /// <summary>Fits the scrolled element to the list, and follows it where it has scrolled by itself.</summary>
    private void Fit()
    {
        _scale.Fit(List.Frame.ContentHeight, List.Viewport.Height);
        var top = _scale.ToElement(List.Viewport.ScrollTop);
        if (Math.Abs(top - _scrolled) <= 0.5) return;
        (_scrolled, _scrollDue) = (top, true);
    }

    private void Changed(object? sender, EventArgs e)
    {
        _changed = true;
        if (!_taking) Show();
    }

    /// <summary>What the script brings is taken as a whole, and what came of it is shown once.</summary>
    private void Begin(double? time = null)
    {
        if (time is { } now) (_time, _timeAt) = (now, System.Diagnostics.Stopwatch.GetTimestamp());
        _taking = true;
    }

    private void End()
    {
        _taking = false;
        Show();
    }

    private void Show()
    {
        if (_disposed) return;
        if (_changed)
        {
            _changed = false;
            Fit();
            var frame = List.Frame;
            // Where only rows are others, only they are drawn; what is carried is moved by the script.
            if (_rows is null || _scrollDue || _drawn is null || !IsSameAround(frame, _drawn)) StateHasChanged();
            else
            {
                _rows.Show(RowsOf(frame));
                Carry(frame);
            }
        }
        Schedule();
    }

    private bool IsSameAround(Frame frame, Frame drawn) =>
        frame with { Rows = drawn.Rows, Kept = drawn.Kept, Viewport = drawn.Viewport, Scroll = drawn.Scroll, Grab = drawn.Grab } == drawn
        && frame.Viewport.Height == drawn.Viewport.Height && SameCard(frame.Grab, drawn.Grab) && ActiveDescendant(frame) == _active;

    private static bool SameCard(GrabFrame? now, GrabFrame? drawn) =>
        now is null || drawn is null ? now == drawn : now.GapY is null == drawn.GapY is null && now with { Top = drawn.Top, GapY = drawn.GapY } == drawn;

    private void Carry(Frame frame)
    {
        if (frame.Grab is { } grab) _script?.CarryTo(grab.Top, grab.GapY ?? 0);
    }

    private void Said(object? sender, AnnouncedEventArgs e) => _script?.Say(e.Text);

    /// <inheritdoc/>
    protected override async Task OnAfterRenderAsync(bool firstRender)
    {
        if (firstRender)
        {
            var calls = new Calls(this);
            _script = OperatingSystem.IsBrowser() ? await ScriptHere.Attach(Id, calls) : await ScriptElsewhere.Attach(Js, _viewport, calls);
        }
        if (_script is null || _disposed) return;
        if (_scrollDue)
        {
            _scrollDue = false;
            _script.ScrollTo(_scrolled);
        }
        Carry(List.Frame);
        if (_expected != List.Commands) Expect();
        var hasMenu = List.Frame.Menu is not null;
        if (_hadMenu && !hasMenu) await _viewport.FocusAsync(preventScroll: true);
        _hadMenu = hasMenu;
    }

    private void Expect()
    {
        _expected = List.Commands;
        var chords = List.Options.Keys.Rules.Select(r => r.Chord).Concat(List.Commands.SelectMany(c => c.Chords)).Where(c => c.Key != "Escape")
            .Select(c => $"{(int)c.Resolve(List.Options.ModKey)}:{c.Key}");
        _script!.ExpectKeys([.. chords.Distinct(), .. List.Options.Keys.FindsByTyping ? (string[])["typing"] : []]);
    }

    /// <summary>A list that cannot call itself back is called at its deadlines, on the clock of the browser's events.</summary>
    private void Schedule()
    {
        if (List.CallsItself || List.NextDeadline == _due) return;
        _waiting?.Cancel();
        _due = List.NextDeadline;
        if (_due is not { } due) return;
        _waiting = new();
        _ = CallBack(due, TimeSpan.FromMilliseconds(Math.Max(1, due - Now)), _waiting.Token);
    }

    private double Now => _time + System.Diagnostics.Stopwatch.GetElapsedTime(_timeAt).TotalMilliseconds;

    private async Task CallBack(double due, TimeSpan wait, CancellationToken token)
    {
        try
        {
            await Task.Delay(wait, token);
        }
        catch (OperationCanceledException)
        {
            return;
        }
        // Input that came meanwhile, and waits behind this, comes first: a release in time is no long press, however busy the page is.
        await Task.Delay(1, CancellationToken.None);
        if (_disposed || token.IsCancellationRequested) return;
        _due = null;
        List.Advance(Math.Max(due, Now));
        Schedule();
    }

    /// <inheritdoc/>
    public async ValueTask DisposeAsync()
    {
        _disposed = true;
        Unbind();
        _waiting?.Cancel();
        if (_script is not null) await _script.DisposeAsync();
    }

    private sealed class Calls(ListView<TItem, TKey> view) : IScriptCalls
    {
        // Of one sample: kind, pointer, type, x, y, time, button, buttons, modifiers, primary, pressure.
        private const int Fields = 11;

        public bool TakeSamples(ReadOnlySpan<double> samples)
        {
            view.Begin(samples[5]);
            try
            {
                for (; samples.Length >= Fields; samples = samples[Fields..])
                    view.List.Take(new PointerSample((SampleKind)(int)samples[0], (int)samples[1], (PointerType)(int)samples[2], samples[3], samples[4], samples[5],
                        (int)samples[6], (int)samples[7], (Modifiers)(int)samples[8], samples[9] != 0, samples[10]));
            }
            finally
            {
                view.End();
            }
            return view.List.HoldsPointer;
        }

        public bool TakeKey(string key, int flags, double time)
        {
            view.Begin(time);
            try
            {
                return view.List.Take(new KeyPress(key, (Modifiers)(flags & 15), time, (flags & 16) != 0)).IsHandled;
            }
            finally
            {
                view.End();
            }
        }

        public void TakeNote(ScriptNote note, double a, double b)
        {
            view.Begin();
            try
            {
                switch (note)
                {
                    case ScriptNote.Scrolled:
                        var rows = view._scale.ToRows(a, view._scrolled);
                        view._scrolled = a;
                        view.List.ScrollTo(rows);
                        break;
                    case ScriptNote.Resized when a > 0 && b > 0:
                        view._size = (a, b);
                        view.List.Resize(a, b);
                        break;
                    case ScriptNote.Focused when a != 0:
                        view.List.Focus();
                        break;
                    case ScriptNote.Focused:
                        view.List.Blur();
                        break;
                }
            }
            finally
            {
                view.End();
            }
        }
    }
}
