using Lectica.Acts;
using Microsoft.AspNetCore.Components;
using Microsoft.Extensions.Logging;
using Microsoft.JSInterop;

namespace Lectica.Blazor;

/// <summary>
/// Keeps what a list remembers (<see cref="ListSnapshot"/>) in the browser, so that it is there again after a reload. It draws nothing; its
/// place is before the list's view, which then shows at first what it showed at last. A list that is being filled gets back what it had
/// when that is done, unless something has been selected by then. Another list under the same name goes on from there.
/// </summary>
/// <remarks>
/// A list is written when it has rested for a second, in slices of 15 ms, so that the page goes on; one that runs in the page also, at
/// once, when the page is hidden or left before that, and as this component goes. It comes back in slices too. Either way takes about 4 µs
/// for each key where the page runs the list. Of one on a server all goes over the line: about 10 bytes for each. A browser has room for
/// some five million characters: half a million selected keys of seven letters. What is larger, or where the browser keeps nothing, is not
/// kept, and the log says so. So it does of what cannot be read. Items, and marks that are theirs, are the app's to keep. Keys of an own
/// type want <see cref="InteractiveList{TItem, TKey}.KeyOfText"/>.
/// </remarks>
public sealed class BrowserSnapshot<TItem, TKey> : ComponentBase, IAsyncDisposable where TKey : notnull
{
    // Of more characters a text is read in slices; for more than the second no browser has room.
    private const int Long = 1 << 16, Most = 5 << 20;
    private static readonly TimeSpan Rest = TimeSpan.FromSeconds(1);

    private InteractiveList<TItem, TKey>? _list;
    private (string Name, WebStorage Storage) _place;
    private WebStore? _store;
    private ILogger _log = null!;
    private Timer? _timer;
    private string? _kept;
    private Reading _reading;
    private bool _isDue, _isUsed, _hasChanged, _isWriting, _hasNoRoom;

    // Which of several writings is the last.
    private int _turn;

    /// <summary>The list.</summary>
    [Parameter, EditorRequired] public InteractiveList<TItem, TKey> List { get; set; } = null!;

    /// <summary>The name under which it is kept: one for each list of the site.</summary>
    [Parameter, EditorRequired] public string Name { get; set; } = null!;

    /// <summary>Where it is kept, and so for how long.</summary>
    [Parameter] public WebStorage Storage { get; set; }

    /// <summary>It was brought back; what is not there any more is in the report.</summary>
    [Parameter] public EventCallback<RestoreReport> OnRestored { get; set; }

    [Inject] private IJSRuntime Js { get; set; } = null!;

    [Inject] private ILoggerFactory Logs { get; set; } = null!;

    /// <summary>
    /// Writes now what has changed. An app that disposes of the list itself calls it before: a list that has gone tells nothing any more.
    /// </summary>
    public ValueTask KeepAsync() => KeepAsync(inSlices: false);

    private async ValueTask KeepAsync(bool inSlices)
    {
        if (_reading != Reading.Done || _list is not { } list) return;
        if (inSlices)
        {
            if (!_hasChanged) return;
            if (_isWriting)
            {
                KeepSoon();
                return;
            }
        }
        // What is being written in slices would come too late. Where there was no room a moment ago, to find that out again may take longer
        // than somebody who leaves would wait.
        else if (_hasNoRoom || !(_hasChanged || _isWriting)) return;
        var turn = _turn;
        using var writing = _store!.Begin();
        try
        {
            if (list.IsReading)
            {
                KeepSoon();
                return;
            }
            turn = ++_turn;
            (_hasChanged, _isWriting) = (false, _isWriting || inSlices);
            if (inSlices) await WriteInSlicesAsync(list, writing);
            else writing.Put(list.Save().ToJson(isIndented: false));
        }
        catch (ObjectDisposedException)
        {
            return;
        }
        catch (TooLongException e)
        {
            if (turn == _turn) await HaveNoRoomAsync(e.Message);
            return;
        }
        finally
        {
            if (inSlices) _isWriting = false;
        }
        // Another may have been written meanwhile, which knows more.
        if (turn != _turn || (writing.Text is { } text && text == _kept)) return;
        _kept = writing.Text;
        try
        {
            await writing.StoreAsync(_place.Storage, _place.Name);
            _hasNoRoom = false;
        }
        catch (JSException e)
        {
            await HaveNoRoomAsync(e.Message);
        }
        catch (TaskCanceledException)
        {
            // The line was broken for too long; the page may come back.
            (_kept, _hasChanged) = (null, true);
            KeepSoon();
        }
        catch (JSDisconnectedException)
        {
            // The page has gone; what it has it keeps.
        }
    }

    private static async Task WriteInSlicesAsync(InteractiveList<TItem, TKey> list, TextWriting writing)
    {
        using var slices = new SlicedWriting(writing, Most);
        await list.SaveAsync(slices);
        // To store it takes a slice.
        await Slices.Pause();
    }

    private async ValueTask HaveNoRoomAsync(string why)
    {
        if (!_hasNoRoom) Told.NotKept(_log, _place.Name, why);
        (_hasNoRoom, _kept) = (true, null);
        // What was true before is not what is true now.
        await RemoveAsync();
    }

    private void KeepSoon() => _timer?.Change(Rest, Timeout.InfiniteTimeSpan);

    /// <summary>Forgets what is kept, as for somebody else or a new beginning. What changes from now on is kept again.</summary>
    public async ValueTask ForgetAsync()
    {
        (_hasChanged, _kept, _hasNoRoom) = (false, null, false);
        _turn++;
        await RemoveAsync();
    }

    private async ValueTask RemoveAsync()
    {
        try
        {
            if (_store is not null) await _store.RemoveAsync(_place.Storage, _place.Name);
        }
        catch (JSException)
        {
            // A browser that keeps nothing has nothing to forget.
        }
    }

    /// <inheritdoc/>
    protected override Task OnParametersSetAsync()
    {
        ArgumentNullException.ThrowIfNull(List);
        ArgumentException.ThrowIfNullOrWhiteSpace(Name);
        if (ReferenceEquals(_list, List) && _place == (Name, Storage)) return Task.CompletedTask;
        _isDue = true;
        // Where the browser answers at once the list is as it was before it is first drawn; elsewhere there is no browser yet.
        return Js is IJSInProcessRuntime || _store is not null ? BindAsync() : Task.CompletedTask;
    }

    /// <inheritdoc/>
    protected override Task OnAfterRenderAsync(bool firstRender) => _isDue ? BindAsync() : Task.CompletedTask;

    private async Task BindAsync()
    {
        _isDue = false;
        if (_store is null)
        {
            _log = Logs.CreateLogger("Lectica.Blazor.BrowserSnapshot");
            _store = new(Js);
            _timer = new(_ => Do(() => KeepAsync(inSlices: true).AsTask()));
            Do(() => _store.WatchAsync(() => Do(() => KeepAsync().AsTask())));
        }
        await KeepAsync();
        LetGo();
        (_list, _place, _kept, _reading, _isUsed, _hasNoRoom) = (List, (Name, Storage), null, Reading.Due, false, false);
        _turn++;
        _list.FrameChanged += Changed;
        _list.SelectionChanged += Used;
        await BeginAsync();
    }

    private void LetGo()
    {
        if (_list is null) return;
        _list.FrameChanged -= Changed;
        _list.SelectionChanged -= Used;
    }

    private void Used(object? sender, SelectionChangedEventArgs<TItem, TKey> e) => _isUsed = true;

    private async Task BeginAsync()
    {
        if (_reading != Reading.Due || _list is null or { IsFilling: true }) return;
        _reading = Reading.UnderWay;
        var (list, place) = (_list, _place);
        KeptText? text;
        try
        {
            text = await _store!.ReadAsync(_place.Storage, _place.Name);
        }
        catch (JSException e)
        {
            Told.NotKept(_log, _place.Name, e.Message);
            text = null;
        }
        catch (Exception e) when (e is TaskCanceledException or JSDisconnectedException)
        {
            // The line is broken; where the page comes back the list changes again.
            _reading = Reading.Due;
            return;
        }
        RestoreReport? report = null;
        using var _ = text;
        try
        {
            if (text is not null) report = await ComeBackAsync(text, () => !ReferenceEquals(list, _list) || place != _place, list);
        }
        finally
        {
            if (ReferenceEquals(list, _list) && place == _place)
            {
                _reading = Reading.Done;
                list.SelectionChanged -= Used;
            }
        }
        if (report is not null) await OnRestored.InvokeAsync(report);
    }

    // Gives nothing where another list has come meanwhile, or something was selected in this one.
    private async Task<RestoreReport?> ComeBackAsync(KeptText text, Func<bool> isOver, InteractiveList<TItem, TKey> list)
    {
        if (isOver() || _isUsed || await ParseAsync(text) is not { } snapshot || isOver() || _isUsed) return null;
        var hasPaused = false;
        RestoreReport report;
        try
        {
            report = await list.RestoreAsync(snapshot, () =>
            {
                hasPaused = true;
                return Slices.Pause();
            });
        }
        catch (ObjectDisposedException)
        {
            return null;
        }
        if (isOver()) return null;
        // What was done meanwhile is not in it.
        (_kept, _hasChanged) = (text.Text, hasPaused);
        if (hasPaused) KeepSoon();
        return report;
    }

    private async Task<ListSnapshot?> ParseAsync(KeptText text)
    {
        try
        {
            if (text.Length < Long) return ListSnapshot.Parse(text.Piece(0, text.Length));
            // For the browser to find it was a slice.
            await Slices.Pause();
            using var slices = new SlicedReading(text);
            return await ListSnapshot.ReadAsync(slices);
        }
        catch (FormatException e)
        {
            Told.Unreadable(_log, _place.Name, e.Message);
            return null;
        }
    }

    private void Changed(object? sender, EventArgs e)
    {
        _hasChanged = true;
        if (_reading == Reading.Due && !_list!.IsFilling) Do(BeginSoonAsync);
        KeepSoon();
    }

    // A list is not restored while it tells of a change.
    private async Task BeginSoonAsync()
    {
        await Task.Yield();
        await BeginAsync();
    }

    // What the app's code throws comes to the nearest error boundary.
    private void Do(Func<Task> doing) => _ = InvokeAsync(async () =>
    {
        try
        {
            await doing();
        }
        catch (Exception e)
        {
            await DispatchExceptionAsync(e);
        }
    });

    /// <inheritdoc/>
    public async ValueTask DisposeAsync()
    {
        LetGo();
        if (_timer is not null) await _timer.DisposeAsync();
        _timer = null;
        if (_store is null) return;
        await KeepAsync();
        await _store.DisposeAsync();
    }

    /// <summary>How far it is with what was kept.</summary>
    private enum Reading
    {
        Due,
        UnderWay,
        Done,
    }
}
