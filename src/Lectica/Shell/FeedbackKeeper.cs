using Lectica.Acts;
using Lectica.States;

namespace Lectica.Shell;

/// <summary>Tells the user that something happened: a flash on a row, a brief notice.</summary>
internal sealed class FeedbackKeeper(Core core, Historian historian)
{
    public Response Flash(int index, string text, double duration)
    {
        var until = core.Now + (duration > 0 ? duration : 0);
        core.Commit(core.State with { Feedback = core.State.Feedback with { Flashes = core.State.Feedback.Flashes.RemoveAll(f => f.Index == index).Add(new(index, text, until)) } });
        core.Announce(_ => text);
        return Response.Handled;
    }

    public void Notify(string text, UndoStep? step)
    {
        // One that offers to take something back stays longer (WCAG 2.2.1: undo is in the keys and the menu as well).
        var time = core.Options.NoticeTime * (step is null ? 1 : 2);
        core.Commit(core.State with { Feedback = core.State.Feedback with { Notice = new(text, step is not null, core.Now + time), Step = step } });
        core.Announce(_ => text);
    }

    /// <summary>What a notice offers has been taken back: it goes.</summary>
    public void Hide(UndoStep step)
    {
        if (core.State.Feedback.Step == step) core.Commit(core.State with { Feedback = core.State.Feedback with { Notice = null, Step = null } });
    }

    /// <summary>Takes back what the notice tells of, as long as nothing was done since.</summary>
    public Response Undo()
    {
        var done = core.State.History.Done;
        if (core.State.Feedback.Step is not { } step || done.IsEmpty || done[^1] != step)
            return core.Refuse(new Act(ActKind.Undo), new(RefusalKind.OutOfDate, "The notice offers nothing to take back any more."));
        return historian.Turn(new Act(ActKind.Undo, Rule: "notice"));
    }

    /// <summary>What is over at a time, goes.</summary>
    public void Fade(double time)
    {
        var left = core.State.Feedback.At(time);
        if (!ReferenceEquals(left, core.State.Feedback)) core.Commit(core.State with { Feedback = left });
    }
}
