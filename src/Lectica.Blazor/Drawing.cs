using System.Globalization;
using Lectica.Frames;
using Lectica.Layout;

namespace Lectica.Blazor;

/// <summary>
/// When what has changed in a list is drawn, and what the script does once it is: rows glide, what is carried comes to its place, the page
/// follows the keyboard.
/// </summary>
/// <param name="scale">The element that scrolls.</param>
/// <param name="rows">The ids of rows.</param>
/// <param name="show">Draws the frame that the list has now.</param>
/// <param name="tell">Tells what has been thrown.</param>
internal sealed class Drawing<TItem>(ScrollScale scale, RowLooks<TItem> rows, Action show, Action<Exception> tell)
{
    // What has taken this long, ms, is drawn in a task of its own: two halts that nobody feels are better than one that is felt.
    private const double LongTurn = 12;

    private readonly List<string> _glides = [];
    private Frame? _noted;
    private string? _followed, _toRaise;
    private bool _isOther, _isDue, _follows;

    /// <summary>The list.</summary>
    public IHostedList List { get; set; } = null!;

    /// <summary>The script, once it is there.</summary>
    public IScript? Script { get; set; }

    /// <summary>The browser's window, from the list's edge; null where it is not known.</summary>
    public HostWindow? Window { get; set; }

    /// <summary>Whether it is over: nothing is drawn any more.</summary>
    public bool IsOver { get; set; }

    /// <summary>There is something new to draw.</summary>
    public void Change() => _isOther = true;

    /// <summary>The page is to follow the keyboard when this is drawn, or no longer.</summary>
    public void Follow(bool follows) => _follows = follows;

    /// <summary>Fits the scrolled element to the list, and follows it where it has scrolled by itself.</summary>
    public void Fit()
    {
        var frame = List.Frame;
        var viewport = frame.Viewport;
        scale.Fit(frame.ContentHeight, frame.IsStrip ? viewport.Width : viewport.Height, viewport.ScrollTop);
    }

    /// <summary>Draws what is new: at once, or in a browser after a pause where that has taken long to come about.</summary>
    /// <param name="turn">How long, ms.</param>
    public void Show(double turn)
    {
        if (turn > LongTurn && OperatingSystem.IsBrowser()) _ = ShowSoon();
        else ShowNow();
    }

    private async Task ShowSoon()
    {
        if (_isDue || !_isOther) return;
        _isDue = true;
        await Task.Yield();
        _isDue = false;
        ShowNow();
    }

    private void ShowNow()
    {
        if (IsOver || !_isOther) return;
        _isOther = false;
        try
        {
            // Here the list asks the app what its items look like.
            Fit();
            NoteGlides();
            show();
        }
        catch (Exception e)
        {
            tell(e);
        }
    }

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
            _glides.Add(rows.IdOf(row));
            _glides.Add((before - row.Top).ToString("R", CultureInfo.InvariantCulture));
            _glides.Add(((row.LeftBefore ?? row.Left) - row.Left).ToString("R", CultureInfo.InvariantCulture));
        }
    }

    /// <summary>Tells the script what it needs of what has been drawn.</summary>
    public void AfterAll()
    {
        if (Script is null || IsOver) return;
        if (scale.Begin() is { } top) Script.ScrollTo(top);
        if (_toRaise is { } menu) Script.Raise(menu);
        _toRaise = null;
        AfterRows();
    }

    /// <summary>The same where only rows have been drawn.</summary>
    public void AfterRows()
    {
        if (List.Frame.Grab is { } grab) Script?.CarryTo(grab.Top, grab.GapY ?? 0, grab.Left, grab.GapX ?? 0);
        if (_glides.Count > 0) Script?.Glide(string.Join('\0', _glides));
        _glides.Clear();
        if (_follows) FollowCursor(List.Frame);
        _follows = false;
    }

    // Where a row is beyond the window's edge though the list shows it, the page scrolls after a key.
    private void FollowCursor(Frame frame)
    {
        var active = rows.ActiveDescendant(frame);
        if (active is null || active == _followed || Window is not { } window) return;
        _followed = active;
        if (frame.Headers.Any(h => h.IsCursor)) Script?.Reveal(active);
        if (frame.Rows.FirstOrDefault(r => r.IsCursor) is { } row && (row.Top < window.Top || row.Top + row.Height > window.Bottom))
            Script?.Reveal(active);
    }

    /// <summary>Has the script bring a menu up.</summary>
    public void Raise(string id)
    {
        // An app may open a menu before the script is there.
        if (Script is null) _toRaise = id;
        else Script.Raise(id);
    }

    /// <summary>Has the script bring an element of a menu into its view.</summary>
    public void Reveal(string id) => Script?.Reveal(id);
}
