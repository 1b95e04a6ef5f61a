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
internal sealed class ListLink<TItem> : IScriptCalls, IAsyncDisposable
{
    // Of one sample: kind, pointer, type, x, y, time, button, buttons, modifiers, primary, pressure.
    private const int Fields = 11;

    // Beside the clipboard's: that a finger pulls the list beyond its top.
    private const int PullUse = 16;

    private readonly string _id;
    private readonly Func<Exception, Task> _tell;
    private readonly Dictionary<int, Pressed> _down = [];
    private CancellationTokenSource? _waiting;
    private double? _due;
    private double _time;
    private long _timeAt;
    private (double Width, double Height)? _size;
    private (double Width, double Height) _window;
    private bool _taking, _hasKeyboard, _keysAreOthers, _takesEscape;
    private TransferLink? _transfers;
    private string _transferBegun = "";

    /// <summary>A pointer that is down.</summary>
    /// <param name="Type">What it is.</param>
    /// <param name="By">How far what it was seen on had gone on, px; null where it was no longer there.</param>
    private readonly record struct Pressed(PointerType Type, (double X, double Y)? By);

    /// <param name="id">The id of the element that has the keyboard, from whose edges samples are counted.</param>
    /// <param name="show">Draws the frame that the list has now.</param>
    /// <param name="tell">Tells the component of what the app has thrown, where no caller of its own waits for it.</param>
    public ListLink(string id, Action show, Func<Exception, Task> tell)
    {
        (_id, _tell) = (id, tell);
        Looks = new(id, Scale);
        Drawing = new(Scale, Looks, show, Tell);
    }

    public IHostedList List { get; private set; } = null!;

    /// <summary>The element that scrolls.</summary>
    public ScrollScale Scale { get; } = new();

    /// <summary>What rows are drawn from.</summary>
    public RowLooks<TItem> Looks { get; }

    /// <summary>When that is drawn.</summary>
    public Drawing<TItem> Drawing { get; }

    /// <summary>Takes samples; the list does where this is null.</summary>
    public Func<PointerSample, Response>? TakeSample { get; init; }

    /// <summary>Takes keys; the list does where this is null.</summary>
    public Func<KeyPress, Response>? TakePress { get; init; }

    /// <summary>Whether Escape does something here; the list says so where this is null.</summary>
    public Func<bool>? TakesEscape { get; init; }

    /// <summary>Takes the size that the viewport has on the screen, px.</summary>
    public Action<double, double>? TakeSize { get; init; }

    /// <summary>Takes whether the keyboard is here.</summary>
    public Action<bool>? TakeFocus { get; init; }

    /// <summary>Binds it to a list, which may be another than before.</summary>
    /// <param name="list">The list.</param>
    /// <param name="itemAt">Gives its item at an index, for templates.</param>
    public void Bind(IHostedList list, Func<int, TItem> itemAt)
    {
        Looks.Bind(list, itemAt);
        if (ReferenceEquals(List, list)) return;
        Unbind();
        // The keys that it takes may be others.
        (List, Drawing.List, _keysAreOthers) = (list, list, true);
        list.FrameChanged += Changed;
        list.Announced += Said;
        list.Haptic += Felt;
        list.Copied += Copied;
        list.PasteWanted += PasteWanted;
        list.PropertyChanged += Told;
        list.IsCalledBack = true;
        Drawing.Fit();
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
        try
        {
            LetGo();
        }
        finally
        {
            if (_hasKeyboard) TellFocus(false);
        }
    }

    // Whatever the app throws when it is told of one pointer, the others are let go too. What it does then may come back here.
    private void LetGo()
    {
        if (_down.Count == 0) return;
        var (id, pressed) = _down.First();
        _down.Remove(id);
        try
        {
            Hand(new(SampleKind.Cancel, id, pressed.Type, 0, 0, _time));
        }
        finally
        {
            LetGo();
        }
    }

    private void Hand(PointerSample sample) => _ = TakeSample is { } take ? take(sample) : List.Take(sample);

    // Neither the script nor a clock can do anything about what an app throws: it goes where that of the page's event handlers goes. A
    // component that has gone tells nobody.
    private async void Tell(Exception thrown) => await _tell(thrown);

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
        Drawing.Script = OperatingSystem.IsBrowser() ? await ScriptHere.Attach(_id, this) : await ScriptElsewhere.Attach(js, element, this);
    }

    /// <summary>All has been drawn.</summary>
    public void AfterRender()
    {
        Drawing.AfterAll();
        TellKeys();
    }

    private void TellKeys()
    {
        if (Drawing is not { Script: { } script, IsOver: false }) return;
        // What Escape does not do here, such as clear a selection, it does to what is around: it closes the dialog that the list is in.
        var takesEscape = !script.AsksAtOnce && (TakesEscape?.Invoke() ?? List.WouldTake(new("Escape")));
        if (!_keysAreOthers && takesEscape == _takesEscape) return;
        (_keysAreOthers, _takesEscape) = (false, takesEscape);
        script.ExpectUse((int)List.ClipboardUse | (List.Pulls ? PullUse : 0));
        var chords = List.Chords.Where(c => c.Key != "Escape" && !IsOfClipboard(c.Key, c.Resolve(List.Options.ModKey)))
            .Select(c => $"{(int)c.Resolve(List.Options.ModKey)}:{c.Key}").Distinct();
        if (takesEscape) chords = chords.Append("0:Escape");
        script.ExpectKeys([.. chords, .. List.Options.Keys.FindsByTyping ? (string[])["typing"] : []]);
    }

    private void Changed(object? sender, EventArgs e)
    {
        Drawing.Change();
        // What an app does may have taken long.
        if (!_taking) ShowChanges(double.PositiveInfinity);
    }

    // What an app has the list read again, its templates draw again.
    private void Told(object? sender, PropertyChangedEventArgs e)
    {
        if (e.PropertyName == nameof(InteractiveList<,>.RowCount)) Looks.Refresh();
        if (e.PropertyName is not (nameof(InteractiveList<,>.Commands) or nameof(IHostedList.ClipboardUse))) return;
        _keysAreOthers = true;
        TellKeys();
    }

    private void Copied(object? sender, CopiedEventArgs e) => Drawing.Script?.PutClipboard(TransferLink.Pack(e.Data));

    private void PasteWanted(object? sender, EventArgs e) => Drawing.Script?.AskClipboard();

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

    private void Said(object? sender, AnnouncedEventArgs e) => Drawing.Script?.Say(e.Text);

    // Short for what passes by, longer for what will happen on release.
    private void Felt(object? sender, HapticEventArgs e)
    {
        if (!_down.Values.Any(p => p.Type == PointerType.Touch)) return;
        Drawing.Script?.Hint(e.Hint is HapticHint.RowCrossed or HapticHint.GapCrossed ? 4 : 14);
    }

    private void ShowChanges(double turn)
    {
        if (Drawing.IsOver) return;
        Drawing.Show(turn);
        TellKeys();
        Schedule();
    }

    private T Taking<T>(double? time, T otherwise, Func<T> take)
    {
        if (Drawing.IsOver) return otherwise;
        var begun = Stopwatch.GetTimestamp();
        if (time is { } now) (_time, _timeAt) = (now, begun);
        _taking = true;
        try
        {
            return take();
        }
        catch (Exception e) when (!Drawing.IsOver)
        {
            Tell(e);
            return otherwise;
        }
        finally
        {
            _taking = false;
            ShowChanges(Stopwatch.GetElapsedTime(begun).TotalMilliseconds);
        }
    }

    public bool TakeSamples(ReadOnlyMemory<double> samples, Seen seen = default) => Taking(samples.Span[5], false, () =>
    {
        Drawing.Follow(false);
        for (var rest = samples.Span; rest.Length >= Fields && !Drawing.IsOver; rest = rest[Fields..])
        {
            var sample = new PointerSample((SampleKind)(int)rest[0], (int)rest[1], (PointerType)(int)rest[2], rest[3], rest[4], rest[5])
            {
                Button = (int)rest[6],
                Buttons = (int)rest[7],
                Modifiers = (Modifiers)(int)rest[8],
                IsPrimary = rest[9] != 0,
                Pressure = rest[10],
            };
            try
            {
                if (AsSeen(sample, seen) is { } asSeen) Hand(asSeen);
            }
            catch (Exception e) when (!Drawing.IsOver)
            {
                // What comes after it, such as the release, has happened all the same.
                Tell(e);
            }
        }
        return List.HoldsPointer;
    });

    // A pointer is where that is which was seen under it as it went down, until it drags: from then on it is where it is. One that went
    // down on what is no longer there does nothing.
    private PointerSample? AsSeen(in PointerSample sample, Seen seen)
    {
        var pressed = sample.Kind == SampleKind.Down ? new(sample.PointerType, seen.WentOn(List, sample.X, sample.Y))
            : _down.GetValueOrDefault(sample.PointerId, new(sample.PointerType, (0, 0)));
        if (pressed.By is not null && List.HoldsPointer) pressed = pressed with { By = (0, 0) };
        if (sample.Kind is SampleKind.Up or SampleKind.Cancel) _down.Remove(sample.PointerId);
        else if (sample.Kind == SampleKind.Down || _down.ContainsKey(sample.PointerId)) _down[sample.PointerId] = pressed;
        return pressed.By is var (x, y) ? sample with { X = sample.X + x, Y = sample.Y + y } : null;
    }

    public bool TakeKey(string key, int flags, double time) => Taking(time, false, () =>
    {
        var press = new KeyPress(key, (Modifiers)(flags & 15), time, (flags & 16) != 0);
        if (IsOfClipboard(key, press.Modifiers)) return false;
        var isHandled = (TakePress is { } take ? take(press) : List.Take(press)).IsHandled;
        if (isHandled) Drawing.Follow(true);
        return isHandled;
    });

    public void TakeNote(ScriptNote note, double a, double b) => Taking(null, true, () =>
    {
        switch (note)
        {
            case ScriptNote.Scrolled:
                if (Scale.Take(a) is { } rows) List.ScrollTo(rows);
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
                if (!_hasKeyboard) List.CloseMenu();
                break;
            case ScriptNote.WindowSized:
                _window = (a, b);
                break;
            case ScriptNote.WindowPlaced when _window is { Width: > 0, Height: > 0 }:
                var window = new HostWindow(a, b, a + _window.Width, b + _window.Height);
                Drawing.Window = window;
                List.ShowIn(window);
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
        if (Drawing.IsOver || token.IsCancellationRequested) return;
        _due = null;
        Taking(null, true, () =>
        {
            List.Advance(Math.Max(due, Now));
            return true;
        });
    }

    public async ValueTask DisposeAsync()
    {
        Drawing.IsOver = true;
        try
        {
            Unbind();
        }
        finally
        {
            _waiting?.Cancel();
            if (Drawing.Script is { } script) await script.DisposeAsync();
        }
    }
}
