using Lectica.Acts;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Selecting;
using Lectica.Swiping;

namespace Lectica.States;

/// <summary>
/// What goes on while a pointer is down. Where the pointer is now is not part of it: that comes with the samples, and what it means at each
/// moment is worked out from both, so that a move inside a row changes nothing here.
/// </summary>
/// <param name="PointerId">The pointer.</param>
/// <param name="Act">The act that goes on.</param>
/// <param name="StartX">Where the pointer went down, px.</param>
/// <param name="StartY">Where the pointer went down, px from the viewport's top edge.</param>
/// <param name="ScrolledAt">Up to when it has scrolled, ms; null while the pointer is not near an edge.</param>
/// <param name="ScrollsSince">Since when it has been near an edge, ms.</param>
internal sealed record Stroke(int PointerId, Act Act, double StartX, double StartY, double? ScrolledAt, double ScrollsSince = 0)
{
    /// <summary>Of a pull: whether letting go now does it.</summary>
    public bool IsArmed { get; init; }

    public Stroke After(Edit edit) =>
        Act.Index < 0 || edit.Apply(Act.Index) is var index && index == Act.Index ? this
        : this with { Act = Act with { Index = edit.Apply(Act.Index) } };

    /// <summary>A stroke ends where what it drags has gone.</summary>
    public static Stroke? Settle(ListState before, ListState now, in Settling how) =>
        now.Stroke is not { } stroke ? null : stroke.Act.Kind switch
        {
            ActKind.OpenTray => now.Tray is { IsHeld: true } ? stroke : null,
            ActKind.Sweep => now.Drag.Sweep is not null ? stroke : null,
            ActKind.Pull => stroke,
            ActKind.Grab => now.Carrying.Grab is not null ? stroke : null,
            _ => now.Drag.Marquee is not null ? stroke : null,
        };

    /// <summary>A tray goes with its row.</summary>
    public static Swipe? SettleTray(ListState before, ListState now, in Settling how) =>
        now.Tray is { } swipe && now.Showing.Rows.RowOf(swipe.Index) is null ? null : now.Tray;
}

/// <summary>What is being selected by dragging: one of a sweep and a marquee, and the selection as it would be.</summary>
/// <param name="Sweep">Rows that are swept over.</param>
/// <param name="Marquee">A rectangle, of which only where it began and what it had before are looked at.</param>
/// <param name="Touched">The rows that the marquee touches, or null.</param>
/// <param name="Preview">The selection as it would be; over the limit it stays as it was at the last row that fits.</param>
/// <param name="IsStale">Whether the rows are others than those that it was worked out for.</param>
internal sealed record DragSelection(Sweep? Sweep, Marquee? Marquee, TouchedRows? Touched, Selection? Preview, bool IsStale = false)
{
    public static DragSelection None { get; } = new(null, null, null, null);

    public DragSelection After(Edit edit)
    {
        if (ReferenceEquals(this, None)) return this;
        var sweep = Sweep?.After(edit);
        return Sweep is not null && sweep is null ? None
            : this with
            {
                Sweep = sweep,
                Marquee = Marquee is { } marquee ? marquee with { Before = marquee.Before.After(edit) } : null,
                Preview = Preview?.After(edit),
            };
    }

    /// <summary>What is selected meanwhile follows the rows, as the selection itself does.</summary>
    public static DragSelection Settle(ListState before, ListState now, in Settling how)
    {
        var drag = now.Drag;
        if (ReferenceEquals(drag, None) || ReferenceEquals(before.Showing, now.Showing)) return drag;
        var (rules, keep) = (now.Rules(how.Options), how.Options.KeepsHiddenSelected);
        Selection Right(Selection selection) => Selector.Settle(selection, rules, keep, selection.Cursor);
        if (drag.Sweep is { } sweep && now.Showing.Rows.NearestShown(sweep.First) < 0) return None;
        return drag with
        {
            Sweep = drag.Sweep is { } s ? s with { Before = Right(s.Before) } : null,
            Marquee = drag.Marquee is { } m ? m with { Before = Right(m.Before) } : null,
            Preview = drag.Preview is { } p ? Right(p) : null,
            IsStale = true,
        };
    }
}
