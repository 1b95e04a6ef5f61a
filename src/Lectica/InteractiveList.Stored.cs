using System.Buffers;
using System.Text.Json;
using Lectica.Shell;

namespace Lectica;

// What is remembered over a reload or until another day.
public sealed partial class InteractiveList<TItem, TKey>
{
    /// <summary>
    /// What the list remembers, by key. Cost: the selected items; where items were moved, all; and all where the keys' own texts are not
    /// known to differ and no <see cref="KeyOfText"/> reads them back.
    /// </summary>
    /// <exception cref="InvalidOperationException">Two keys are written alike, so that a snapshot could not tell them apart; or the list's
    /// <see cref="KeyOfText"/> does not read one back.</exception>
    public ListSnapshot Save() => Reading(p => p.Snapshots.Save());

    /// <summary>
    /// Puts the list as it was: what is still there of it, by key. One selection-changed tells the difference. Keys that are gone are
    /// reported, and nothing is lost by them. A source that the list moves by itself is put in the snapshot's order, items that it does not
    /// know after those that they follow now; <c>Moved</c> tells of it. Cost: the snapshot's own length, where keys can be read from their
    /// text (<see cref="KeyOfText"/>); else a key an item; to put in order, all items.
    /// <para>A list that is not in memory comes back to it once its source has said where the items are; what is gone is left out and not
    /// reported. Where the user or the app selects something or moves the cursor before, that stays; and so does the place scrolled to.
    /// </para></summary>
    /// <exception cref="InvalidOperationException">Called from inside an event's handler, where it would have to wait and could not
    /// report.</exception>
    public RestoreReport Restore(ListSnapshot snapshot)
    {
        ArgumentNullException.ThrowIfNull(snapshot);
        CheckMayRestore();
        RestoreReport? report = null;
        Set(p => report = p.Snapshots.Restore(snapshot));
        return report!;
    }

    private void CheckMayRestore()
    {
        if (Here.Turns.IsBusy)
            throw new InvalidOperationException(
                "A snapshot cannot be restored from inside an event's handler: post the call, so that it runs when the events are " +
                    "through.");
    }

    /// <summary>
    /// Writes what <see cref="Save"/> gives, as JSON in UTF-8, in slices: for very many selected items. It is the list at the moment of the
    /// call, whatever becomes of it meanwhile. The keys are taken at once, and compared where they must be; their texts are written for
    /// 15 ms at a time. A stream that completes later lets the screen have its turn.
    /// </summary>
    /// <param name="stream">To what; its writing completes on the list's context, or thread.</param>
    /// <param name="cancellation">Ends it.</param>
    /// <exception cref="InvalidOperationException">As <see cref="Save"/>.</exception>
    public async Task SaveAsync(Stream stream, CancellationToken cancellation = default)
    {
        ArgumentNullException.ThrowIfNull(stream);
        var buffer = new ArrayBufferWriter<byte>();
        var json = new Utf8JsonWriter(buffer);
        await using var _ = json.ConfigureAwait(true);
        SnapshotWriting<TItem, TKey>? writing = null;
        for (var isLast = false; !isLast; buffer.ResetWrittenCount())
        {
            isLast = Reading(p => p.Turns.Slice(() => p.Snapshots.GoOn(writing ??= p.Snapshots.BeginSave(), json)));
            json.Flush();
            await stream.WriteAsync(buffer.WrittenMemory, cancellation).ConfigureAwait(true);
        }
    }

    /// <summary>
    /// <see cref="Restore"/> in slices, for very many selected items. Keys are looked for during 15 ms at a time; the list stays as it is
    /// until all are found, and then comes back at once. What is selected meanwhile stays, which the report says; so do a mark and an
    /// expanded branch that are changed meanwhile, and a place scrolled to. An order is put in one go, and so is a list whose keys cannot
    /// be read from their text.
    /// </summary>
    /// <param name="snapshot">What the list is to be.</param>
    /// <param name="pause">Lets the screen have its turn: called after each slice but the last. It completes on the list's context, or
    /// thread; what it throws ends the call, and the list is as it was.</param>
    /// <exception cref="InvalidOperationException">As <see cref="Restore"/>.</exception>
    public async Task<RestoreReport> RestoreAsync(ListSnapshot snapshot, Func<Task> pause)
    {
        ArgumentNullException.ThrowIfNull(snapshot);
        ArgumentNullException.ThrowIfNull(pause);
        CheckMayRestore();
        SnapshotReturn? coming = null;
        try
        {
            while (!Reading(p => p.Turns.Slice(() => (coming ??= p.Snapshots.BeginRestore(snapshot)).Step())))
                await pause().ConfigureAwait(true);
            CheckMayRestore();
            RestoreReport? report = null;
            Set(p => report = p.Snapshots.Finish(coming!));
            return report!;
        }
        finally
        {
            if (coming is not null) _parts.Snapshots.Drop(coming);
        }
    }
}
