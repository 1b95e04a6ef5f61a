using System.Globalization;
using Lectica.Frames;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Looks;
using Lectica.Selecting;
using Microsoft.AspNetCore.Components.Rendering;

namespace Lectica.Blazor;

/// <summary>One row: where it lies, and what of it stands on its outermost element.</summary>
internal sealed class RowElement<TItem> : DrawnElement<RowLook<TItem>>
{
    private RowFrame Row => Look.Row;

    private ListLook<TItem> List => Look.List;

    // Whether it has just come to stand for another row, which is no change that anybody should see happen.
    private bool _isOther;

    protected override bool Update(RowLook<TItem> before, RowLook<TItem> look)
    {
        _isOther = before.Row.KeyText != look.Row.KeyText;
        return false;
    }

    protected override void BuildRenderTree(RenderTreeBuilder builder)
    {
        switch (Row.Kind)
        {
            case RowKind.Heading:
                DrawHeading(builder);
                break;
            case RowKind.Notice:
                DrawNotice(builder);
                break;
            default:
                DrawItem(builder);
                break;
        }
    }

    private void DrawItem(RenderTreeBuilder html)
    {
        html.Open("div", "lectica-row" + Looks);
        html.Set("id", Look.Id);
        if (!List.IsGrid)
        {
            html.Set("role", "option");
            html.Set("aria-posinset", Count(Row.Row.Value + 1));
            html.Set("aria-setsize", Count(List.RowCount));
        }
        else if (Row.IsTile)
        {
            html.Set("role", "gridcell");
            html.Set("aria-colindex", Count(Row.Column + 1));
        }
        else
        {
            html.Set("role", "row");
            html.Set("aria-rowindex", Line);
            html.Set("aria-level", Row.Level < 0 ? null : Count(Row.Level + 1));
            html.Set("aria-expanded", Row.Branch is { } branch ? branch.IsExpanded ? "true" : "false" : null);
        }
        html.Set("aria-label", List.IsGrid ? Name : Row.Content.AccessibleName);
        html.Set("aria-selected", Row.IsSelected ? "true" : "false");
        html.Set("aria-disabled", Row.IsDisabled ? "true" : null);
        html.Set("aria-busy", IsBusy ? "true" : null);
        html.Set("aria-description", BusyText);
        html.Set("style", Position);
        html.Set("data-key", Row.KeyText);
        html.Drawn<RowInsideElement<TItem>, RowInside<TItem>>(new(Look));
        html.CloseElement();
    }

    private void DrawHeading(RenderTreeBuilder html)
    {
        var heading = Row.Heading!;
        html.Open("div", "lectica-row lectica-heading" + Looks);
        // In a strip it is a cell of the one line.
        html.Set("role", List.IsStrip ? "gridcell" : "row");
        html.Set("aria-labelledby", Look.Id);
        html.Set("aria-colindex", List.IsStrip ? Count(Row.Column + 1) : null);
        html.Set("aria-rowindex", List.IsStrip ? null : Line);
        html.Set("style", Position);
        html.Set("data-heading", Row.Section);
        if (heading.HasBox)
        {
            html.Open("div", "lectica-cell");
            html.Set("role", List.IsStrip ? null : "gridcell");
            html.Set("style", $"inset-inline-start:0;width:{Css.Px(List.PartWidth)}");
            html.Open("span", "lectica-box");
            html.Set("role", "checkbox");
            html.Set("aria-checked", heading.State switch { TriState.On => "true", TriState.Mixed => "mixed", _ => "false" });
            html.Set("aria-label", List.Phrases.Select);
            html.CloseElement();
            html.CloseElement();
        }
        html.Open("div", "lectica-body");
        html.Set("id", Look.Id);
        html.Set("role", List.IsStrip ? "button" : "rowheader");
        html.Set("aria-expanded", heading.IsCollapsed ? "false" : "true");
        html.Set("style", $"inset-inline-start:{Css.Px(heading.HasBox ? List.PartWidth : 0)};inset-inline-end:0");
        if (List.Heading is { } template)
        {
            html.Add(template(Row));
        }
        else
        {
            html.Span("lectica-title", Row.Content.Label);
            html.Text(" ");
            html.Span("lectica-count", List.Phrases.Number(heading.Count));
            html.Icon("down");
        }
        html.CloseElement();
        html.CloseElement();
    }

    private void DrawNotice(RenderTreeBuilder html)
    {
        var isRow = List.IsGrid && !List.IsStrip;
        html.Open("div", "lectica-row lectica-notice-row" + Looks + NoticeLook);
        html.Set("id", List.IsGrid ? null : Look.Id);
        html.Set("role", !List.IsGrid ? "option" : List.IsStrip ? "gridcell" : "row");
        html.Set("aria-selected", List.IsGrid ? null : "false");
        html.Set("aria-rowindex", isRow ? Line : null);
        html.Set("style", Position);
        html.Open("div", "lectica-body");
        html.Set("id", List.IsGrid ? Look.Id : null);
        html.Set("role", isRow ? "gridcell" : null);
        if (List.Notice is { } template)
        {
            html.Add(template(Row));
        }
        else
        {
            html.Icon(IconPaths.Of(Row.Notice));
            html.Text(" ");
            html.Span("lectica-label", Row.Content.Label);
            html.Text(" ");
            if (Row.Content.Detail is { } offer) html.Span("lectica-offer", offer);
        }
        html.CloseElement();
        html.CloseElement();
    }

    private string Looks => string.Concat(
    [
        Row.IsSelected ? " is-selected" : "", Row.IsPressed ? " is-pressed" : "", Row.IsCursor ? " is-cursor" : "",
        Row.IsCurrent ? " is-current" : "",
        Row.IsDisabled ? " is-disabled" : "", Row.IsGrabbed ? " is-grabbed" : "", Row.Busy is null ? "" : " is-busy",
        Row.Reading switch { RowReading.Pending => " is-pending", RowReading.Failed => " is-unread", _ => "" },
        Row.Tray.IsEmpty ? "" : " has-tray", Row.IsTile ? " is-tile" : "", _isOther ? " is-other" : "",
    ]);

    private string Position =>
        Row.IsTile || List.IsStrip
        ? $"{Css.Tile(Look.Left, Look.Top, Row.Width, Row.Height)};--lectica-part:{Css.Px(Row.PartHeight)}"
        : List.LeastHeight is { } least && Row.Kind == RowKind.Item
        ? $"transform:translateY({Css.Number(Look.Top)}px);min-height:{Css.Number(least)}px"
        : $"transform:translateY({Css.Number(Look.Top)}px);height:{Css.Number(Row.Height)}px";

    private string Line => Count(Row.Line + 1 + List.HeaderLines);

    // What the row is, once, and what is true of it.
    private string Name => string.Join(", ",
    [
        Row.Content.SpokenName,
        .. Row.Parts.Where(p => p is { Part.Kind: PartKind.Mark, IsOn: true } or { Part.Kind: PartKind.Mark, Count: > 0 })
            .Select(List.NameOf),
    ]);

    private bool IsBusy =>
        Row.Busy is not null || Row.Reading == RowReading.Pending || Row.Branch?.Reading == RowReading.Pending;

    private string? BusyText =>
        Row.Busy is { } busy ? List.Phrases.Busy(busy.Label, busy.Progress is { } done ? (int)(done * 100) : null) : null;

    private bool IsFooter => Row.Notice is NoticeKind.MoreToCome or NoticeKind.MoreLoading or NoticeKind.MoreFailed or NoticeKind.NoMore;

    private string NoticeLook =>
        $" is-{Row.Notice.ToString()!.ToLowerInvariant()}{(Row.Section is null && !IsFooter ? " is-whole" : "")}";

    private static string Count(int value) => value.ToString(CultureInfo.InvariantCulture);
}
