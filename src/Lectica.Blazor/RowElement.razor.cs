using Lectica.Frames;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Selecting;

namespace Lectica.Blazor;

/// <summary>One row as elements.</summary>
public sealed partial class RowElement<TItem>
{
    private string Place =>
        Look.Row.IsTile || Look.List.IsStrip
        ? $"{Css.Tile(Look.Left, Look.Top, Look.Row.Width, Look.Row.Height)};--lectica-part:{Css.Px(Look.Row.PartHeight)}"
        : Look.List.LeastHeight is { } least && Look.Row.Kind == RowKind.Item
        ? $"transform:translateY({Css.Number(Look.Top)}px);min-height:{Css.Number(least)}px"
        : $"transform:translateY({Css.Number(Look.Top)}px);height:{Css.Number(Look.Row.Height)}px";

    // What the row is, once, and what is true of it.
    private string Name => string.Join(", ",
        [Look.Row.Content.SpokenName,
            .. Look.Row.Parts.Where(p => p is { Part.Kind: PartKind.Mark, IsOn: true } or { Part.Kind: PartKind.Mark, Count: > 0 })
                .Select(Look.List.NameOf)]);

    private string? Busy =>
        Look.Row.Busy is null && Look.Row.Reading != RowReading.Pending && Look.Row.Branch?.Reading != RowReading.Pending ? null : "true";

    private string? BusyText =>
        Look.Row.Busy is { } busy ? Look.List.Phrases.Busy(busy.Label, busy.Progress is { } done ? (int)(done * 100) : null) : null;

    private bool IsFooter =>
        Look.Row.Notice is NoticeKind.MoreToCome or NoticeKind.MoreLoading or NoticeKind.MoreFailed or NoticeKind.NoMore;

    private string NoticeLook =>
        $" is-{Look.Row.Notice.ToString()!.ToLowerInvariant()}{(Look.Row.Section is null && !IsFooter ? " is-whole" : "")}";

    private string NoticeIcon => Look.Row.Notice switch
    {
        NoticeKind.Failed or NoticeKind.MoreFailed => "alert",
        NoticeKind.Loading or NoticeKind.MoreLoading => "loading",
        NoticeKind.MoreToCome => "down",
        NoticeKind.NoMore => "tick",
        NoticeKind.NothingMatches => "search",
        _ => "empty",
    };

    private static string Checked(TriState state) => state switch { TriState.On => "true", TriState.Mixed => "mixed", _ => "false" };
}
