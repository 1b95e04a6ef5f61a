using Lectica.Acts;
using Lectica.Commands;
using Lectica.Shell;

namespace Lectica;

// What goes out of the list and comes into it: the clipboard, drags from and to other programs, and a pull that has it read again.
public sealed partial class InteractiveList<TItem, TKey>
{
    /// <summary>
    /// The command, by id, that a finger runs by pulling the list down beyond its top: one of the whole list that reads it again. Null for
    /// none. It is a command like others: give it a chord, and it is in the menu, for those who do not pull.
    /// </summary>
    public string? PullCommand
    {
        get => Here.Pull.CommandId;
        set
        {
            Here.Pull.CommandId = value;
            _parts.Porter.Told();
        }
    }

    /// <inheritdoc/>
    public bool Pulls => Reading(p => p.Pull.IsOffered);

    /// <summary>
    /// What items are on the clipboard, and where they are dragged to: asked when somebody copies, cuts or drags. Null for none at all, and
    /// it may give null for some. <see cref="TransferData.OfLines"/> makes a line an item.
    /// </summary>
    public Func<IReadOnlyList<TItem>, TransferData?>? CopyAs { get => Here.Porter.CopyAs; set => Here.Porter.Set(p => p.CopyAs = value); }

    /// <summary>
    /// The command, by id, that takes away what was cut: it asks, tells and is taken back as that command is. Null for no cutting.
    /// </summary>
    public string? CutCommand { get => Here.Porter.CutCommand; set => Here.Porter.Set(p => p.CutCommand = value); }

    /// <summary>Whether something may come in at a gap; what <see cref="InsertRequested"/> is there for may where null.</summary>
    public Func<InsertQuestion, bool>? CanInsert { get => Here.Porter.CanInsert; set => Here.Porter.Set(p => p.CanInsert = value); }

    /// <summary>
    /// Takes the items of a command's target out of the source: what its <c>Do</c> does where it removes them. It can be taken back; a
    /// command that does more, and has an <c>Inverse</c> for that, puts them back there by <see cref="PutBack"/>. The list need not be
    /// refreshed after it. What has left by itself meanwhile is none of it. In an outline they go with all that is below them, which no
    /// <c>Inverse</c> has: there the list alone puts them back. Cost: what goes; a <c>List</c> of items with keys is written
    /// anew, and read, where that lies at more than 64 places, and of other collections each item leaves by itself. Of a <c>List</c> with
    /// keys the list holds 4,096 or more that lay together, of the last four such stretches, so that they come back at a fraction of that.
    /// </summary>
    /// <exception cref="InvalidOperationException">The source cannot be written, or has changed without saying so; or one of the functions
    /// by which the list asks something calls this. The source is as it was then.</exception>
    public void TakeOut(CommandTarget<TItem, TKey> target)
    {
        ArgumentNullException.ThrowIfNull(target);
        Write(p => p.Porter.TakeOut(target));
    }

    /// <summary>
    /// Puts the items of a command's target back into the source, at the indexes that it has for them: the inverse of <see
    /// cref="TakeOut"/>, but not in an outline. Those that are there stay where they are. Cost: a look-up for each, and what comes; as for
    /// that one where it comes to many places.
    /// </summary>
    /// <exception cref="InvalidOperationException">The source cannot be written, or has changed without saying so; or one of the functions
    /// by which the list asks something calls this. The source is as it was then.</exception>
    public void PutBack(CommandTarget<TItem, TKey> target)
    {
        ArgumentNullException.ThrowIfNull(target);
        Write(p => p.Porter.PutBack(target));
    }

    // At once, also inside a handler, as when the handler changes the source itself.
    private void Write(Func<ListParts<TItem, TKey>, Refusal?> write)
    {
        var parts = Here;
        if (parts.Core.App.IsAsking)
            throw new InvalidOperationException("The source cannot be changed while the list asks the app something: do it in a command.");
        Refusal? refusal = null;
        parts.Turns.Inside(() => refusal = write(parts));
        if (refusal is not null) throw new InvalidOperationException(refusal.Reason);
    }

    /// <inheritdoc/>
    public Response Copy() => Run(p => p.Actor.Do(new Act(ActKind.Copy)));

    /// <inheritdoc/>
    public Response Cut() => Run(p => p.Actor.Do(new Act(ActKind.Cut)));

    /// <inheritdoc/>
    public Response Paste(TransferData data)
    {
        ArgumentNullException.ThrowIfNull(data);
        return Run(p => p.Porter.Paste(data));
    }

    /// <inheritdoc/>
    public TransferData? DataAt(double x, double y) =>
        Reading(p => p.Core.Axes.In(x, y) is var (inX, inY) ? p.Porter.DataAt(inX, inY) : null);

    /// <inheritdoc/>
    public Response HoverFromOutside(IEnumerable<string> types, bool hasFiles, double x, double y, double time) => Run(p =>
    {
        var (inX, inY) = p.Core.Axes.In(x, y);
        return p.Porter.HoverFromOutside([.. types], hasFiles, inX, inY, time);
    });

    /// <inheritdoc/>
    public Response DropFromOutside(TransferData data, double x, double y, double time)
    {
        ArgumentNullException.ThrowIfNull(data);
        return Run(p =>
        {
            var (inX, inY) = p.Core.Axes.In(x, y);
            return p.Porter.DropFromOutside(data, inX, inY, time);
        });
    }

    /// <inheritdoc/>
    public void LeaveFromOutside() => Run(p => p.Porter.LeaveFromOutside());

    /// <inheritdoc/>
    public ClipboardUse ClipboardUse => Reading(p => p.Porter.Use);
}
