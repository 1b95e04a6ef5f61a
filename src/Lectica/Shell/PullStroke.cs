using Lectica.Acts;
using Lectica.Commands;
using Lectica.Frames;
using Lectica.Gestures;
using Lectica.Items;
using Lectica.Layout;
using Lectica.States;

namespace Lectica.Shell;

/// <summary>
/// A finger pulls the list down beyond its top: let go far enough, a command of the app's runs that reads the items again. It is a command
/// like any other, so that keys, menu and toolbar have it too, and tell how far it is.
/// </summary>
internal sealed class PullStroke<TItem, TKey>(Core core, PointerAt at, CommandBook<TItem, TKey> book, CommandRunner<TItem, TKey> runner)
    : IStroke where TKey : notnull
{
    // What is uncovered follows the finger at half its way, and no farther than this, px.
    private const double Follow = 0.5, Most = 96;

    /// <summary>The command, by id; null for none.</summary>
    public string? CommandId { get; set; }

    private Command<TItem, TKey>? Command => book.Declared(CommandId) is { Scope: CommandScope.List } command ? command : null;

    private double ArmingHeight => core.Options.Thresholds.PullDistance * Follow;

    /// <summary>Whether a pull means anything now.</summary>
    public bool IsOffered => core.Options.Layout is not Strip && Command is { } command && !IsRunning(command);

    private bool IsRunning(Command<TItem, TKey> command) => book.RunOf(command, Nothing) is not null;

    // A command of the whole list is done to no items.
    private ItemSet Nothing => ItemSet.None(core.State.Count);

    private string Say(Func<Phrases, string> phrase) => core.App.Ask(phrase, core.Options.Phrases, "");

    public bool Scrolls => false;

    public Refusal? WhyNot(Act act) => Command is not null ? null
        : new(RefusalKind.NotAvailable, CommandId is null ? "A pull does nothing: set PullCommand to the command that it runs."
            : $"A pull does nothing: there is no command '{CommandId}' of the whole list, which PullCommand names.");

    public void Begin(Stroke stroke, in Gesture gesture) => core.Commit(core.State with { Stroke = stroke });

    public void Move(Stroke stroke)
    {
        core.Out.ChangeFrame();
        var isArmed = at.Y - stroke.StartY >= core.Options.Thresholds.PullDistance;
        if (isArmed == stroke.IsArmed) return;
        core.Commit(core.State with { Stroke = stroke with { IsArmed = isArmed } });
        core.Hint(isArmed ? HapticHint.Armed : HapticHint.Disarmed);
    }

    public Response End(Stroke stroke, in Gesture gesture)
    {
        Cancel(stroke);
        if (!stroke.IsArmed || Command is not { } command) return Response.Handled;
        return runner.RunFor(command, Nothing, stroke.Act with { Kind = ActKind.RunCommand, Text = command.Id });
    }

    public void Cancel(Stroke stroke) => core.Commit(core.State with { Stroke = null });

    /// <summary>What is uncovered above the rows; null where nothing is.</summary>
    public PullFrame? Now
    {
        get
        {
            return Command is { } command ? NowFor(command) : null;
        }
    }

    private PullFrame? NowFor(Command<TItem, TKey> command)
    {
        if (book.RunOf(command, Nothing) is { } run)
        {
            int? percent = run.Progress is { } part ? (int)(part * 100) : null;
            return new(ArmingHeight, false, true, Say(p => p.Busy(command.Label, percent))) { Progress = run.Progress };
        }
        if (core.State.Stroke is not { Act.Kind: ActKind.Pull } stroke) return null;
        var height = Math.Clamp((at.Y - stroke.StartY) * Follow, 0, Most);
        var text = stroke.IsArmed ? Say(p => p.LetGo(command.Label)) : command.Label;
        return new(height, stroke.IsArmed, false, text) { Turn = height / ArmingHeight };
    }
}
