using Lectica.Acts;
using Lectica.Frames;
using Lectica.States;

namespace Lectica.Shell;

/// <summary>Tells the user that something happened: a flash on a row, a brief notice.</summary>
internal sealed class FeedbackKeeper(Core core, Historian historian)
{
    public Response Flash(int index, string text, double duration)
    {
        var until = core.Now + (duration > 0 ? duration : 0);
        core.Commit(core.State with
        {
            Feedback = core.State.Feedback with { Flashes = core.State.Feedback.Flashes.With(new(index, text, until)) },
        });
        core.Announce(_ => text);
        return Response.Handled;
    }

    /// <summary>Shows a notice.</summary>
    /// <param name="text">What it says.</param>
    /// <param name="step">What it offers to take back, or null.</param>
    /// <param name="isSaid">Whether a screen reader has been told already.</param>
    /// <param name="retrial">What it offers to try again, or null.</param>
    public void Notify(string text, UndoStep? step, bool isSaid = false, Retrial? retrial = null)
    {
        // One that offers something stays longer (WCAG 2.2.1: undo is in the keys and the menu as well).
        var time = core.Options.NoticeTime * (step is null && retrial is null ? 1 : 2);
        var notice = new BriefNotice(text, step is not null, core.Now + time)
        {
            OffersRetry = retrial is not null,
            Offer = step is not null ? core.Options.Phrases.Undo : retrial is not null ? core.Options.Phrases.Retry : null,
        };
        core.Commit(core.State with
        {
            Feedback = core.State.Feedback with { Notice = notice, Step = step, Retrial = retrial, HeldSince = null },
        });
        if (!isSaid) core.Announce(_ => text);
    }

    /// <summary>Lets the notice's time stand still, or run on.</summary>
    public void Hold(bool holds, double time)
    {
        var feedback = core.State.Feedback;
        if (feedback.Notice is not { } notice || holds == feedback.HeldSince is not null) return;
        core.Now = Math.Max(core.Now, time);
        core.Commit(core.State with
        {
            Feedback = feedback.HeldSince is { } since
                ? feedback with { HeldSince = null, Notice = notice with { Until = notice.Until + (core.Now - since) } }
                : feedback with { HeldSince = core.Now },
        });
    }

    /// <summary>What a notice offers has been taken back: it goes.</summary>
    public void Hide(UndoStep step)
    {
        if (core.State.Feedback.Step is { } told && step.Covers(told))
            core.Commit(core.State with { Feedback = core.State.Feedback with { Notice = null, Step = null } });
    }

    /// <summary>Has what the notice tells of tried again.</summary>
    public Response Retry(Func<Retrial, Response> run)
    {
        if (core.State.Feedback.Retrial is not { } retrial)
            return core.Refuse(new Act(ActKind.RunCommand), new(RefusalKind.OutOfDate, "The notice offers nothing to try again any more."));
        core.Commit(core.State with { Feedback = core.State.Feedback with { Notice = null, Retrial = null } });
        return run(retrial);
    }

    /// <summary>Takes back what the notice tells of, as long as nothing was done since.</summary>
    public Response Undo()
    {
        var done = core.State.History.Done;
        if (core.State.Feedback.Step is not { } step || done.IsEmpty || !done[^1].Covers(step))
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
