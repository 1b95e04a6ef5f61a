using Lectica.Frames;

namespace Lectica;

// What tells the user that something happened: a flash on a row, a brief notice, words for a screen reader.
public sealed partial class InteractiveList<TItem, TKey>
{
    private readonly List<(int Index, string Text, double Until)> _flashes = [];
    private BriefNotice? _notice;
    private UndoStep? _noticeStep;

    /// <summary>Words for a screen reader, in the language of the list's phrases: a host hands them to a live region.</summary>
    public event EventHandler<AnnouncedEventArgs>? Announced;

    /// <summary>The brief notice that shows, or null.</summary>
    public BriefNotice? BriefNotice => _notice;

    /// <summary>Shows a text on an item's row for a moment.</summary>
    /// <param name="key">The item's key.</param>
    /// <param name="text">What it says.</param>
    /// <param name="duration">For how long, ms.</param>
    public Response Flash(TKey key, string text, double duration = 600) => Run(index =>
    {
        ArgumentNullException.ThrowIfNull(text);
        if (index < 0) return Absent(Acts.ActKind.Activate, key);
        _flashes.RemoveAll(f => f.Index == index);
        _flashes.Add((index, text, _now + Math.Max(0, duration)));
        ChangeFrame();
        Announce(text);
        return Response.Handled;
    }, IndexOf(key));

    /// <summary>Shows a brief notice, until another comes or its time is over.</summary>
    public void Notify(string text) => Run(_ =>
    {
        ArgumentNullException.ThrowIfNull(text);
        Notify(text, null);
        return Response.Handled;
    });

    private void Notify(string text, UndoStep? step)
    {
        // One that offers to take something back stays longer (WCAG 2.2.1: undo is in the keys and the menu as well).
        _notice = new(text, step is not null, _now + (step is null ? Options.NoticeTime : 2 * Options.NoticeTime));
        _noticeStep = step;
        ChangeFrame();
        _changedProperties.Add(nameof(BriefNotice));
        Announce(text);
    }

    /// <summary>Takes back what the brief notice tells of, and hides it.</summary>
    public Response UndoFromNotice() => Run(_ =>
    {
        if (_noticeStep is not { } step || _done.Count == 0 || _done[^1] != step)
            return Refuse(new Acts.Act(Acts.ActKind.Undo), new(Acts.RefusalKind.OutOfDate, "The notice offers nothing to take back any more."));
        return Undo(new Acts.Act(Acts.ActKind.Undo, Rule: "notice"));
    });

    private void HideNotice()
    {
        (_notice, _noticeStep) = (null, null);
        ChangeFrame();
        _changedProperties.Add(nameof(BriefNotice));
    }

    private void Announce(string text)
    {
        if (Announced is null) return;
        Trace(() => new() { Stage = "change", T = _now, Change = "announced", Reason = text });
        Raise(Announced, new(text));
    }

    /// <summary>When the first flash or the notice is over; null where none shows.</summary>
    private double? NextFade
    {
        get
        {
            var next = _notice?.Until ?? double.PositiveInfinity;
            foreach (var flash in _flashes) next = Math.Min(next, flash.Until);
            return double.IsPositiveInfinity(next) ? null : next;
        }
    }

    private void Fade(double time)
    {
        if (!(NextFade <= time)) return;
        for (var i = _flashes.Count - 1; i >= 0; i--)
        {
            if (_flashes[i].Until > time) continue;
            _flashes.RemoveAt(i);
            ChangeFrame();
        }
        if (_notice?.Until <= time) HideNotice();
    }
}
