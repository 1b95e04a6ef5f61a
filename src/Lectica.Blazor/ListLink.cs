using System.ComponentModel;
using System.Diagnostics;
using Lectica.Frames;
using Lectica.Input;
using Lectica.Items;
using Microsoft.AspNetCore.Components;
using Microsoft.JSInterop;

namespace Lectica.Blazor;

/// <summary>
/// What stands between a list and the script of the component that shows it: samples, keys, scrolling and time go in, and what came of all
/// that the script brought at once is shown once.
/// </summary>
internal sealed class ListLink<TItem>(string id) : IScriptCalls, IAsyncDisposable
{
    // Of one sample: kind, pointer, type, x, y, time, button, buttons, modifiers, primary, pressure.
    private const int Fields = 11;

    private readonly Dictionary<int, PointerType> _down = [];
    private readonly HashSet<string> _texts = [], _alike = [];
    private Func<string, string> _markLabelOf = null!;
    private Func<int, TItem> _itemAt = null!;
    private ListLook<TItem>? _look;
    private CancellationTokenSource? _waiting;
    private double? _due;
    private double _scrolled, _time;
    private long _timeAt;
    private (double Width, double Height)? _size;
    private bool _taking, _changed, _disposed, _hasKeyboard, _keysAreOthers;
    private int _version;

    /// <summary>The id of the element that has the keyboard, from whose edges samples are counted.</summary>
    public string Id { get; } = id;

    public IHostedList List { get; private set; } = null!;

    public ScrollScale Scale { get; } = new();

    public IScript? Script { get; private set; }

    /// <summary>Whether the script is to scroll the element when it has been drawn.</summary>
    public bool ScrollDue { get; private set; }

    /// <summary>Draws the frame that the list has now.</summary>
    public required Action Show { get; init; }

    /// <summary>Takes samples; the list does where this is null.</summary>
    public Func<PointerSample, Response>? TakeSample { get; init; }

    /// <summary>Takes keys; the list does where this is null.</summary>
    public Func<KeyPress, Response>? TakePress { get; init; }

    /// <summary>Takes the size that the viewport has on the screen, px.</summary>
    public Action<double, double>? TakeSize { get; init; }

    /// <summary>Takes whether the keyboard is here.</summary>
    public Action<bool>? TakeFocus { get; init; }

    /// <summary>Has templates drawn anew: what they draw may depend on whatever has changed around them.</summary>
    public void Refresh() => _version++;

    /// <summary>Binds it to a list, which may be another than before.</summary>
    /// <param name="list">The list.</param>
    /// <param name="itemAt">Gives its item at an index, for templates.</param>
    public void Bind(IHostedList list, Func<int, TItem> itemAt)
    {
        _itemAt = itemAt;
        if (ReferenceEquals(List, list)) return;
        Unbind();
        // What it calls its marks, and the keys that it takes, may be others.
        (List, _keysAreOthers, _markLabelOf) = (list, true, list.LabelOf);
        list.FrameChanged += Changed;
        list.Announced += Said;
        list.PropertyChanged += Told;
        Fit();
        // Another list is as large as the one before it.
        if (_size is { } size) list.Resize(size.Width, size.Height);
        if (_hasKeyboard) TellFocus(true);
    }

    private void Unbind()
    {
        if (List is not { } list) return;
        list.FrameChanged -= Changed;
        list.Announced -= Said;
        list.PropertyChanged -= Told;
        // It is no longer on show: what is pressed or grabbed is as if it had not begun.
        // What the app does when told of it may come back here.
        var down = _down.ToArray();
        _down.Clear();
        foreach (var (id, type) in down) Hand(new(SampleKind.Cancel, id, type, 0, 0, _time));
        if (_hasKeyboard) TellFocus(false);
    }

    private void Hand(PointerSample sample) => _ = TakeSample is { } take ? take(sample) : List.Take(sample);

    private void TellFocus(bool hasIt)
    {
        if (TakeFocus is { } take) take(hasIt);
        else if (hasIt) List.Focus();
        else List.Blur();
    }

    /// <summary>Attaches the script to the elements, once they are there.</summary>
    public async Task Attach(IJSRuntime js, ElementReference element) =>
        Script = OperatingSystem.IsBrowser() ? await ScriptHere.Attach(Id, this) : await ScriptElsewhere.Attach(js, element, this);

    /// <summary>Tells the script what it needs of what has been drawn.</summary>
    public void AfterRender()
    {
        if (Script is not { } script || _disposed) return;
        if (ScrollDue)
        {
            ScrollDue = false;
            script.ScrollTo(_scrolled);
        }
        Carry();
        if (!_keysAreOthers) return;
        _keysAreOthers = false;
        var chords = List.Chords.Where(c => c.Key != "Escape").Select(c => $"{(int)c.Resolve(List.Options.ModKey)}:{c.Key}");
        script.ExpectKeys([.. chords.Distinct(), .. List.Options.Keys.FindsByTyping ? (string[])["typing"] : []]);
    }

    /// <summary>Has the script put what is carried to its place.</summary>
    public void Carry()
    {
        if (List.Frame.Grab is { } grab) Script?.CarryTo(grab.Top, grab.GapY ?? 0);
    }

    /// <summary>What all rows are drawn from.</summary>
    public RowsLook<TItem> RowsOf(
        Frame frame, bool isGrid, RenderFragment<RowContext<TItem>>? row = null, RenderFragment<RowFrame>? heading = null, RenderFragment<RowFrame>? notice = null, bool isMeasured = false)
    {
        var look = new ListLook<TItem>(isGrid, frame.RowCount, List.Parts.Width, List.Options.Phrases, _markLabelOf, row, heading, notice, isMeasured ? List.Options.RowHeight : null,
            row is null && heading is null && notice is null ? 0 : _version);
        // The same object while it is the same: rows compare it by reference.
        if (!look.Equals(_look)) _look = look;
        FindAlike(frame);
        return new(frame, Scale.Offset, _look!, frame.Grab is { IsGuest: false }, InDocumentOrder, row => KeyOf(row), LookOf);
    }

    // Two keys whose texts the app has left alike still are two rows.
    private void FindAlike(Frame frame)
    {
        _texts.Clear();
        _alike.Clear();
        foreach (var row in frame.Rows)
            if (row.KeyText is { } text && !_texts.Add(text)) _alike.Add(text);
        foreach (var row in frame.Kept)
            if (row.KeyText is { } text && !_texts.Add(text)) _alike.Add(text);
    }

    private (RowKind Kind, string? Text, int Index) KeyOf(RowFrame row) => (row.Kind, row.KeyText ?? row.Section, row.KeyText is { } text && _alike.Contains(text) ? row.Index : -1);

    private RowLook<TItem> LookOf(RowFrame row) =>
        new(row, IdOf(row), List.Frame.Viewport.ScrollTop + row.Top - Scale.Offset, row.Index < 0 ? default : _itemAt(row.Index), _look!);

    private string IdOf(RowFrame row) => row.Index >= 0 ? $"{Id}-{row.Index}" : $"{Id}-{row.Kind.ToString().ToLowerInvariant()}-{row.Row.Value}";

    private static IEnumerable<RowFrame> InDocumentOrder(Frame frame) =>
        frame.Kept.IsEmpty && frame.Grab is null ? frame.Rows : frame.Rows.Concat(frame.Kept).OrderBy(row => row.DocumentOrder);

    /// <summary>The id of the element that the keyboard's cursor is on, or null.</summary>
    public string? ActiveDescendant(Frame frame)
    {
        if (frame.Rows.Concat(frame.Kept).FirstOrDefault(r => r.IsCursor) is not { } row) return null;
        return row.Parts.FirstOrDefault(p => p.IsCursor) is { } part ? $"{IdOf(row)}-{ElementId.Of(part.Part)}" : IdOf(row);
    }

    /// <summary>Fits the scrolled element to the list, and follows it where it has scrolled by itself.</summary>
    private void Fit()
    {
        Scale.Fit(List.Frame.ContentHeight, List.Frame.Viewport.Height);
        var top = Scale.ToElement(List.Frame.Viewport.ScrollTop);
        if (Math.Abs(top - _scrolled) <= 0.5) return;
        (_scrolled, ScrollDue) = (top, true);
    }

    private void Changed(object? sender, EventArgs e)
    {
        _changed = true;
        if (!_taking) ShowChanges();
    }

    // What an app has the list read anew, its templates draw anew.
    private void Told(object? sender, PropertyChangedEventArgs e)
    {
        if (e.PropertyName == nameof(InteractiveList<,>.Rows)) _version++;
        if (e.PropertyName == nameof(InteractiveList<,>.Commands)) _keysAreOthers = true;
    }

    private void Said(object? sender, AnnouncedEventArgs e) => Script?.Say(e.Text);

    private void ShowChanges()
    {
        if (_disposed) return;
        if (_changed)
        {
            _changed = false;
            Fit();
            Show();
        }
        Schedule();
    }

    private T Taking<T>(double? time, T otherwise, Func<T> take)
    {
        if (_disposed) return otherwise;
        if (time is { } now) (_time, _timeAt) = (now, Stopwatch.GetTimestamp());
        _taking = true;
        try
        {
            return take();
        }
        finally
        {
            _taking = false;
            ShowChanges();
        }
    }

    public bool TakeSamples(ReadOnlyMemory<double> samples) => Taking(samples.Span[5], false, () =>
    {
        for (var rest = samples.Span; rest.Length >= Fields; rest = rest[Fields..])
        {
            var sample = new PointerSample((SampleKind)(int)rest[0], (int)rest[1], (PointerType)(int)rest[2], rest[3], rest[4], rest[5],
                (int)rest[6], (int)rest[7], (Modifiers)(int)rest[8], rest[9] != 0, rest[10]);
            if (sample.Kind == SampleKind.Down) _down[sample.PointerId] = sample.PointerType;
            else if (sample.Kind != SampleKind.Move) _down.Remove(sample.PointerId);
            Hand(sample);
        }
        return List.HoldsPointer;
    });

    public bool TakeKey(string key, int flags, double time) => Taking(time, false, () =>
    {
        var press = new KeyPress(key, (Modifiers)(flags & 15), time, (flags & 16) != 0);
        return (TakePress is { } take ? take(press) : List.Take(press)).IsHandled;
    });

    public void TakeNote(ScriptNote note, double a, double b) => Taking(null, true, () =>
    {
        switch (note)
        {
            // Elements scroll by whole px: what the list has scrolled itself comes back rounded, and is not another place.
            case ScriptNote.Scrolled when Math.Abs(a - _scrolled) < 1:
                break;
            case ScriptNote.Scrolled:
                var rows = Scale.ToRows(a, _scrolled);
                _scrolled = a;
                List.ScrollTo(rows);
                break;
            case ScriptNote.Resized when a > 0 && b > 0:
                if (TakeSize is { } takeSize)
                {
                    takeSize(a, b);
                    break;
                }
                _size = (a, b);
                List.Resize(a, b);
                break;
            case ScriptNote.Focused:
                TellFocus(_hasKeyboard = a != 0);
                break;
        }
        return true;
    });

    public void TakeHeights(string[] keys, double[] heights) => Taking(null, true, () =>
    {
        List.Measure(keys.Zip(heights).Where(k => k.Second > 0));
        return true;
    });

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

    private double Now => _time + Stopwatch.GetElapsedTime(_timeAt).TotalMilliseconds;

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

    public async ValueTask DisposeAsync()
    {
        _disposed = true;
        Unbind();
        _waiting?.Cancel();
        if (Script is { } script) await script.DisposeAsync();
    }
}
