using System.ComponentModel;
using System.Runtime.ExceptionServices;
using Lectica.Tracing;

namespace Lectica.Shell;

/// <summary>
/// What is to be told once the state is in place: trace lines, events, properties, the frame. Every handler is called by itself, so that
/// one that throws keeps no other from being told; the first exception comes out when all is told.
/// </summary>
internal sealed class Outbox
{
    private readonly List<Action> _events = [];
    private readonly List<TraceLine> _lines = [];
    private readonly HashSet<string> _properties = [];
    private ExceptionDispatchInfo? _failed;
    private int _told;
    private bool _frame;
    private Announcement? _announcement;

    /// <summary>Who tells.</summary>
    public object Sender { get; set; } = null!;

    /// <summary>Who listens to traces.</summary>
    public Action<TraceLine>? Traced { get; set; }

    /// <summary>Who listens to properties.</summary>
    public PropertyChangedEventHandler? PropertyChanged { get; set; }

    /// <summary>Who listens to frames.</summary>
    public EventHandler? FrameChanged { get; set; }

    /// <summary>The properties that are others now.</summary>
    public ISet<string> Properties => _properties;

    /// <summary>How much has gathered: what comes after it can be taken back by <see cref="Rewind"/>.</summary>
    public OutboxMark Mark => new(_events.Count, _lines.Count, _announcement);

    /// <summary>Takes back what has gathered since a mark.</summary>
    public void Rewind(OutboxMark mark)
    {
        _announcement = mark.Announcement;
        if (_events.Count > mark.Events) _events.RemoveRange(mark.Events, _events.Count - mark.Events);
        if (_lines.Count > mark.Lines) _lines.RemoveRange(mark.Lines, _lines.Count - mark.Lines);
    }

    /// <summary>Adds a line; put together only where somebody listens.</summary>
    public void Trace(Func<TraceLine> line)
    {
        if (Traced is not null) _lines.Add(line());
    }

    /// <summary>Adds something to be done when what came before it is told.</summary>
    public void Later(Action action) => _events.Add(action);

    /// <summary>Adds an event, for each handler by itself.</summary>
    public void Raise<T>(EventHandler<T>? handlers, T args)
    {
        if (handlers is null) return;
        foreach (var handler in handlers.GetInvocationList()) _events.Add(() => ((EventHandler<T>)handler)(Sender, args));
    }

    /// <summary>Adds an event without arguments.</summary>
    public void Raise(EventHandler? handlers)
    {
        foreach (var handler in handlers?.GetInvocationList() ?? []) _events.Add(() => ((EventHandler)handler)(Sender, EventArgs.Empty));
    }

    /// <summary>
    /// Says something when all else is told. There is one announcement for one act: the last one counts, and what is said as an aside gives
    /// way to any other.
    /// </summary>
    public void Announce(Action tell, bool isAside)
    {
        if (!isAside || _announcement is null or { IsAside: true }) _announcement = new(tell, isAside);
    }

    /// <summary>
    /// How often there has been something new to draw: a frame of an earlier number is not what there is to draw any more.
    /// </summary>
    public long FrameNumber { get; private set; }

    /// <summary>Whether there is something new to draw of which hosts have not been told yet.</summary>
    public bool IsFrameDue => _frame;

    /// <summary>There is something new to draw.</summary>
    public void ChangeFrame()
    {
        _frame = true;
        FrameNumber++;
        if (PropertyChanged is not null) _properties.Add("Frame");
    }

    /// <summary>Keeps an exception of the app's until all is told; the first one counts.</summary>
    public void Fail(Exception error) => _failed ??= ExceptionDispatchInfo.Capture(error);

    /// <summary>Tells the next event; false where none is left.</summary>
    public bool TellEvent()
    {
        TellLines();
        if (_told >= _events.Count) return false;
        Guard(_events[_told++]);
        if (_told < _events.Count) return true;
        _events.Clear();
        _told = 0;
        return true;
    }

    /// <summary>
    /// Makes events of what is to be said, of the properties that changed or, when those are told, of the new frame; false where nothing
    /// is left.
    /// </summary>
    public bool TellChanges()
    {
        if (_announcement is { } announcement)
        {
            _announcement = null;
            announcement.Tell();
            return true;
        }
        if (_properties.Count > 0)
        {
            string[] names = [.. _properties];
            _properties.Clear();
            foreach (var name in names)
            {
                var args = new PropertyChangedEventArgs(name);
                foreach (var handler in PropertyChanged?.GetInvocationList() ?? [])
                    _events.Add(() => ((PropertyChangedEventHandler)handler)(Sender, args));
            }
            return true;
        }
        if (!_frame) return false;
        _frame = false;
        Raise(FrameChanged);
        return true;
    }

    private void TellLines()
    {
        for (var i = 0; i < _lines.Count; i++)
            foreach (var handler in Traced?.GetInvocationList() ?? [])
            {
                var line = _lines[i];
                Guard(() => ((Action<TraceLine>)handler)(line));
            }
        _lines.Clear();
    }

    private void Guard(Action tell)
    {
        // The app's own exception: the other handlers are told first, then it goes to the caller.
        if (Attempt.Of(tell) is { } error) Fail(error);
    }

    /// <summary>Throws what failed, if anything did, and forgets it.</summary>
    public void ThrowFailed()
    {
        var failed = _failed;
        _failed = null;
        failed?.Throw();
    }

    /// <summary>Forgets all: the list is gone.</summary>
    public void Clear()
    {
        _events.Clear();
        _lines.Clear();
        _properties.Clear();
        (_frame, _failed, _told, _announcement) = (false, null, 0, null);
    }
}

/// <summary>How much has gathered in an outbox.</summary>
internal readonly record struct OutboxMark(int Events, int Lines, Announcement? Announcement);

/// <summary>What is to be said.</summary>
internal sealed record Announcement(Action Tell, bool IsAside);
