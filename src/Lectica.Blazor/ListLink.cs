using System.ComponentModel;
using System.Diagnostics;
using Lectica.Acts;
using Lectica.Frames;
using Lectica.Input;
using Lectica.Items;
using Lectica.Layout;
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

    // Beside the clipboard's: that a finger pulls the list beyond its top.
    private const int PullUse = 16;

    // What has taken this long, ms, is drawn in a task of its own: two halts that nobody feels are better than one that is felt.
    private const double LongTurn = 12;

    private readonly Dictionary<int, PointerType> _down = [];
    private readonly HashSet<string> _texts = [], _alike = [];
    private readonly List<string> _glides = [];
    private Func<string, string> _markLabelOf = null!;
    private Func<int, TItem> _itemAt = null!;
    private ListLook<TItem>? _look;
    private CancellationTokenSource? _waiting;
    private double? _due;
    private double _scrolled, _time;
    private long _timeAt;
    private (double Width, double Height)? _size;
    private (double Width, double Height) _window;
    private Frame? _noted;
    private string? _shownActive, _toRaise;
    private bool _taking, _changed, _isDue, _hasKeyboard, _keysAreOthers, _follows;
    private int _version;
    private TransferLink? _transfers;
    private string _transferBegun = "";

    /// <summary>The id of the element that has the keyboard, from whose edges samples are counted.</summary>
    public string Id { get; } = id;

    public IHostedList List { get; private set; } = null!;

    public ScrollScale Scale { get; } = new();

    public IScript? Script { get; private set; }

    /// <summary>Whether the script is to scroll the element when it has been drawn.</summary>
    public bool ScrollDue { get; private set; }

    /// <summary>Whether it is over.</summary>
    public bool IsDisposed { get; private set; }

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

    /// <summary>Has templates redrawn: what they draw may depend on whatever has changed around them.</summary>
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
        list.Haptic += Felt;
        list.Copied += Copied;
        list.PasteWanted += PasteWanted;
        list.PropertyChanged += Told;
        list.IsCalledBack = true;
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
        list.Haptic -= Felt;
        list.Copied -= Copied;
        list.PasteWanted -= PasteWanted;
        list.PropertyChanged -= Told;
        list.IsCalledBack = false;
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
    public async Task Attach(IJSRuntime js, ElementReference element)
    {
        _transfers = new(js);
        Script = OperatingSystem.IsBrowser() ? await ScriptHere.Attach(Id, this) : await ScriptElsewhere.Attach(js, element, this);
    }

    /// <summary>Tells the script what it needs of what has been drawn.</summary>
    public void AfterRender()
    {
        if (Script is not { } script || IsDisposed) return;
        if (ScrollDue)
        {
            ScrollDue = false;
            script.ScrollTo(_scrolled);
        }
        if (_toRaise is { } menu) script.Raise(menu);
        _toRaise = null;
        AfterRows();
        TellKeys();
    }

    /// <summary>The same where only rows have been drawn.</summary>
    public void AfterRows()
    {
        Carry();
        Glide();
        FollowCursor();
    }

    private void TellKeys()
    {
        if (!_keysAreOthers || Script is not { } script || IsDisposed) return;
        _keysAreOthers = false;
        script.ExpectUse((int)List.ClipboardUse | (List.Pulls ? PullUse : 0));
        var chords = List.Chords.Where(c => c.Key != "Escape" && !IsOfClipboard(c.Key, c.Resolve(List.Options.ModKey)))
            .Select(c => $"{(int)c.Resolve(List.Options.ModKey)}:{c.Key}");
        script.ExpectKeys([.. chords.Distinct(), .. List.Options.Keys.FindsByTyping ? (string[])["typing"] : []]);
    }

    /// <summary>Has the script bring a menu up.</summary>
    public void Raise(string id)
    {
        // An app may open a menu before the script is there.
        if (Script is { } script) script.Raise(id);
        else _toRaise = id;
    }

    /// <summary>Has the script bring an element of a menu into its view.</summary>
    public void Reveal(string id) => Script?.Reveal(id);

    // The script lets rows glide from where they were, once they are drawn. From a server that is a message later, when the list may have
    // another frame already: how they moved is noted before.
    private void NoteGlides()
    {
        var frame = List.Frame;
        if (ReferenceEquals(frame, _noted) || List.Options.ReducedMotion) return;
        _noted = frame;
        foreach (var row in frame.Rows)
        {
            if (row.TopBefore is not { } before || row.IsGrabbed) continue;
            _glides.Add(IdOf(row));
            _glides.Add((before - row.Top).ToString("R", System.Globalization.CultureInfo.InvariantCulture));
            _glides.Add(((row.LeftBefore ?? row.Left) - row.Left).ToString("R", System.Globalization.CultureInfo.InvariantCulture));
        }
    }

    private void Glide()
    {
        if (_glides.Count > 0) Script?.Glide(string.Join('\0', _glides));
        _glides.Clear();
    }

    // The script puts what is carried to its place.
    private void Carry()
    {
        if (List.Frame.Grab is { } grab) Script?.CarryTo(grab.Top, grab.GapY ?? 0, grab.Left, grab.GapX ?? 0);
    }

    /// <summary>What all rows are drawn from.</summary>
    public RowsLook<TItem> RowsOf(
        Frame frame, bool isGrid, RenderFragment<RowContext<TItem>>? row = null, RenderFragment<RowFrame>? heading = null,
            RenderFragment<RowFrame>? notice = null, bool isMeasured = false)
    {
        var look = new ListLook<TItem>(
            isGrid, isGrid ? 0 : frame.RowCount, List.Parts.Width, List.Options.Phrases, _markLabelOf, row, heading, notice,
            isMeasured && List.Options.Layout is not Tiles ? List.Options.RowHeight : null,
            row is null && heading is null && notice is null ? 0 : _version)
        {
            // Where the keyboard is, and what is sorted, is nothing to the rows.
            IsStrip = frame.IsStrip,
            Columns = frame.Headers.IsEmpty ? [] : [.. frame.Headers.Select(h => h with { IsCursor = false, IsDescending = null })],
        };
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

    private (RowKind Kind, string? Text, int Index) KeyOf(RowFrame row) =>
        (row.Kind, row.KeyText ?? row.Section, row.KeyText is not { } text || _alike.Contains(text) ? row.Index : -1);

    private RowLook<TItem> LookOf(RowFrame row) =>
        new(row, IdOf(row), List.Frame.IsStrip ? row.Top : List.Frame.Viewport.ScrollTop + row.Top - Scale.Offset,
        row.Index < 0 || row.Reading != RowReading.Done ? default : _itemAt(row.Index), _look!)
        {
            Left = List.Frame.IsStrip ? InStrip(row) : row.Left,
        };

    // From the left edge of what is scrolled: where it runs from the right, that is its end.
    private double InStrip(RowFrame row)
    {
        var (viewport, scrolled) = (List.Frame.Viewport, List.Frame.Viewport.ScrollTop - Scale.Offset);
        return List.Frame.IsRightToLeft ? row.Left + Math.Max(Scale.Height, viewport.Width) - viewport.Width - scrolled
            : row.Left + scrolled;
    }

    /// <summary>What is carried, drawn as its row is.</summary>
    public RowLook<TItem> CardOf(RowFrame row) => new(row, Id + "-card", 0, _itemAt(row.Index), _look!);

    /// <summary>The heading that stays at the top, drawn as it is in its place; that one is what assistive technology is told of.</summary>
    public RowLook<TItem> StickyOf(RowFrame row) => new(row, Id + "-sticky", 0, default, _look!);

    private string IdOf(RowFrame row) =>
        row.Index >= 0 ? $"{Id}-{row.Index}" : $"{Id}-{row.Kind.ToString().ToLowerInvariant()}-{row.Row.Value}";

    private static IEnumerable<RowFrame> InDocumentOrder(Frame frame) =>
        frame.Kept.IsEmpty && frame.Grab is null ? frame.Rows : frame.Rows.Concat(frame.Kept).OrderBy(row => row.DocumentOrder);

    /// <summary>What the parts of rows are called, which have no headers to be seen.</summary>
    public IEnumerable<string> PartNames =>
    [
        .. List.Parts.Check ? [List.Options.Phrases.Select] : (string[])[], .. List.Parts.Marks.Select(_markLabelOf),
            .. List.Parts.Menu ? [List.Options.Phrases.Menu] : (string[])[],
        .. List.Parts.Handle ? [List.Options.Phrases.Move] : (string[])[],
    ];

    /// <summary>The id of the element that the keyboard's cursor is on, or null.</summary>
    public string? ActiveDescendant(Frame frame)
    {
        if (frame.Headers.FirstOrDefault(h => h.IsCursor) is { } header) return $"{Id}-column-{ElementId.Of(header.Name)}";
        if (frame.Rows.Concat(frame.Kept).FirstOrDefault(r => r.IsCursor) is not { } row) return null;
        return row.Parts.FirstOrDefault(p => p.IsCursor) is { } part ? $"{IdOf(row)}-{ElementId.Of(part.Part)}" : IdOf(row);
    }

    /// <summary>Fits the scrolled element to the list, and follows it where it has scrolled by itself.</summary>
    private void Fit()
    {
        Scale.Fit(List.Frame.ContentHeight, List.Frame.IsStrip ? List.Frame.Viewport.Width : List.Frame.Viewport.Height);
        var top = Scale.ToElement(List.Frame.Viewport.ScrollTop);
        if (Math.Abs(top - _scrolled) <= 0.5) return;
        (_scrolled, ScrollDue) = (top, true);
    }

    private void Changed(object? sender, EventArgs e)
    {
        _changed = true;
        // What an app does may have taken long.
        if (!_taking) ShowChanges(isLong: true);
    }

    // What an app has the list read again, its templates draw again.
    private void Told(object? sender, PropertyChangedEventArgs e)
    {
        if (e.PropertyName == nameof(InteractiveList<,>.RowCount)) _version++;
        if (e.PropertyName is not (nameof(InteractiveList<,>.Commands) or nameof(IHostedList.ClipboardUse))) return;
        _keysAreOthers = true;
        TellKeys();
    }

    private void Copied(object? sender, CopiedEventArgs e) => Script?.PutClipboard(TransferLink.Pack(e.Data));

    private void PasteWanted(object? sender, EventArgs e) => Script?.AskClipboard();

    /// <summary>
    /// Whether a key is one by which the browser copies, cuts or pastes, and the list takes part in that: the browser then tells of it by
    /// an event of its own, which alone may read the clipboard.
    /// </summary>
    private bool IsOfClipboard(string key, Modifiers modifiers) =>
        modifiers == (List.Options.ModKey == ModKey.Meta ? Modifiers.Meta : Modifiers.Ctrl) && key switch
        {
            "c" or "C" => List.ClipboardUse.HasFlag(ClipboardUse.Copies),
            "x" or "X" => List.ClipboardUse.HasFlag(ClipboardUse.Cuts),
            "v" or "V" => List.ClipboardUse.HasFlag(ClipboardUse.Takes),
            _ => false,
        } && List.Options.Keys.Rules.Any(
        r => r.Acts is [ActKind.Copy or ActKind.Cut or ActKind.Paste]
            && string.Equals(r.Chord.Key, key, StringComparison.OrdinalIgnoreCase));

    public string TakeTransfer(TransferNote note, string packed) => Taking(null, "", () =>
    {
        var whole = _transferBegun + packed;
        _transferBegun = "";
        return _transfers?.Take(List, note, whole) ?? "";
    });

    public void BeginTransfer(string packed) => _transferBegun += packed;

    private void Said(object? sender, AnnouncedEventArgs e) => Script?.Say(e.Text);

    // Short for what passes by, longer for what will happen on release.
    private void Felt(object? sender, HapticEventArgs e)
    {
        if (_down.ContainsValue(PointerType.Touch)) Script?.Hint(e.Hint is HapticHint.RowCrossed or HapticHint.GapCrossed ? 4 : 14);
    }

    // Where a row is beyond the window's edge though the list shows it, the page scrolls after a key.
    private void FollowCursor()
    {
        if (!_follows) return;
        _follows = false;
        var frame = List.Frame;
        var active = ActiveDescendant(frame);
        if (active is null || active == _shownActive || Host is not { } window) return;
        _shownActive = active;
        if (frame.Headers.Any(h => h.IsCursor)) Script?.Reveal(active);
        if (frame.Rows.FirstOrDefault(r => r.IsCursor) is { } row && (row.Top < window.Top || row.Top + row.Height > window.Bottom))
            Script?.Reveal(active);
    }

    /// <summary>Whether the menu closed since something else was pressed, which then has the keyboard.</summary>
    public bool HasGoneElsewhere { get; private set; }

    /// <summary>The browser's window, from the list's edge; null where it is not known.</summary>
    public Layout.HostWindow? Host { get; private set; }

    private void ShowChanges(bool isLong)
    {
        if (IsDisposed) return;
        if (isLong && OperatingSystem.IsBrowser()) _ = ShowSoon();
        else ShowNow();
        Schedule();
    }

    private async Task ShowSoon()
    {
        if (_isDue || !_changed) return;
        _isDue = true;
        await Task.Yield();
        _isDue = false;
        ShowNow();
    }

    private void ShowNow()
    {
        if (IsDisposed || !_changed) return;
        _changed = false;
        Fit();
        NoteGlides();
        Show();
    }

    private T Taking<T>(double? time, T otherwise, Func<T> take)
    {
        if (IsDisposed) return otherwise;
        var begun = Stopwatch.GetTimestamp();
        if (time is { } now) (_time, _timeAt) = (now, begun);
        _taking = true;
        try
        {
            return take();
        }
        finally
        {
            _taking = false;
            ShowChanges(Stopwatch.GetElapsedTime(begun).TotalMilliseconds > LongTurn);
        }
    }

    public bool TakeSamples(ReadOnlyMemory<double> samples) => Taking(samples.Span[5], false, () =>
    {
        _follows = false;
        for (var rest = samples.Span; rest.Length >= Fields; rest = rest[Fields..])
        {
            var sample = new PointerSample((SampleKind)(int)rest[0], (int)rest[1], (PointerType)(int)rest[2], rest[3], rest[4], rest[5])
            {
                Button = (int)rest[6],
                Buttons = (int)rest[7],
                Modifiers = (Modifiers)(int)rest[8],
                IsPrimary = rest[9] != 0,
                Pressure = rest[10],
            };
            if (sample.Kind == SampleKind.Down) _down[sample.PointerId] = sample.PointerType;
            else if (sample.Kind != SampleKind.Move) _down.Remove(sample.PointerId);
            Hand(sample);
        }
        return List.HoldsPointer;
    });

    public bool TakeKey(string key, int flags, double time) => Taking(time, false, () =>
    {
        var press = new KeyPress(key, (Modifiers)(flags & 15), time, (flags & 16) != 0);
        if (IsOfClipboard(key, press.Modifiers)) return false;
        var isHandled = (TakePress is { } take ? take(press) : List.Take(press)).IsHandled;
        _follows |= isHandled;
        return isHandled;
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
            // The keyboard was on a menu or notice that has gone: it comes back.
            case ScriptNote.Focused when a == 0 && b != 0 && !HasGoneElsewhere:
                break;
            case ScriptNote.Focused:
                TellFocus(_hasKeyboard = a != 0);
                if (_hasKeyboard) HasGoneElsewhere = false;
                if (!_hasKeyboard) List.CloseMenu();
                break;
            case ScriptNote.WindowSized:
                _window = (a, b);
                break;
            case ScriptNote.WindowPlaced when _window is { Width: > 0, Height: > 0 }:
                Host = new(a, b, a + _window.Width, b + _window.Height);
                List.ShowIn(Host.Value);
                break;
            case ScriptNote.MenuScrolled:
                List.ScrollMenu(a, b != 0);
                break;
            case ScriptNote.TextSized:
                List.ScaleText(Math.Clamp(a / 16, 0.25, 8));
                break;
            case ScriptNote.ModKeyTold:
                List.UseModKey(a != 0 ? ModKey.Meta : ModKey.Ctrl);
                break;
            case ScriptNote.PressedOutside:
                HasGoneElsewhere = true;
                List.CloseMenu();
                break;
            case ScriptNote.NoticeHeld:
                List.HoldNotice(a != 0, b);
                break;
        }
        return true;
    });

    public void TakeHeights(string[] keys, double[] heights) => Taking(null, true, () =>
    {
        List.Measure(keys.Zip(heights, KeyValuePair.Create).Where(k => k.Value > 0));
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
        // Input that came meanwhile, and waits behind this, comes first: a release in time is not a long press, however busy the page is.
        await Task.Delay(1, CancellationToken.None);
        if (IsDisposed || token.IsCancellationRequested) return;
        _due = null;
        Taking(null, true, () =>
        {
            List.Advance(Math.Max(due, Now));
            return true;
        });
    }

    public async ValueTask DisposeAsync()
    {
        IsDisposed = true;
        Unbind();
        _waiting?.Cancel();
        if (Script is { } script) await script.DisposeAsync();
    }
}
