using System.Runtime.CompilerServices;
using Lectica.Frames;
using Lectica.Layout;
using Lectica.Marking;
using Lectica.Selecting;
using Microsoft.AspNetCore.Components.Rendering;

namespace Lectica.Blazor;

/// <summary>What the inside of an item's row is drawn from.</summary>
/// <param name="Outer">The row.</param>
internal sealed record RowInside<TItem>(RowLook<TItem> Outer)
{
    /// <summary>Whether both look the same inside, wherever in the list they lie.</summary>
    public bool Equals(RowInside<TItem>? other) => other is not null && Outer.IsSameInside(other.Outer);

    public override int GetHashCode() => Outer.Id.GetHashCode(StringComparison.Ordinal);
}

/// <summary>What is inside an item's row, its tray, body and parts: apart, since a row moves more often than it changes.</summary>
internal sealed class RowInsideElement<TItem> : DrawnElement<RowInside<TItem>>
{
    private RowFrame Row => Look.Outer.Row;

    private ListLook<TItem> List => Look.Outer.List;

    // A tile is one cell of its line, whatever is in it.
    private string? Cell => Row.IsTile ? null : "gridcell";

    protected override void BuildRenderTree(RenderTreeBuilder builder)
    {
        DrawTrays(builder);
        builder.Open("div", "lectica-slide");
        builder.Set("role", List.IsGrid ? "presentation" : null);
        builder.Set("style", Slide);
        if (!List.IsGrid || Row.Cells.IsEmpty || List.Columns.Count == 0) DrawBody(builder);
        else DrawCells(builder);
        if (List.IsGrid) DrawParts(builder);
        builder.CloseElement();
        if (Row.Busy is { } busy)
        {
            builder.Open("div", Css.ProgressLook(busy.Progress));
            builder.Set("role", "presentation");
            builder.Set("style", Css.Progress(busy.Progress));
            builder.CloseElement();
        }
        if (Row.Flash is { } flash)
        {
            builder.Open("div", "lectica-flash");
            builder.Set("role", "presentation");
            builder.Text(flash);
            builder.CloseElement();
        }
    }

    private void DrawTrays(RenderTreeBuilder html, [CallerLineNumber] int line = 0)
    {
        html.OpenRegion(2 * line);
        foreach (var entry in Row.Tray) DrawTray(html, entry);
        html.CloseRegion();
    }

    // Whatever a tray has the menu has too, so a screen reader is not told of it twice.
    private void DrawTray(RenderTreeBuilder html, TrayPartFrame entry)
    {
        html.Open("div", $"lectica-tray is-{entry.Role.ToString().ToLowerInvariant()}{(entry.IsArmed ? " is-armed" : "")}");
        html.Set("style", List.IsStrip ? $"top:{Css.Px(entry.Left)};height:{Css.Px(entry.Width)}"
            : $"left:{Css.Px(entry.Left)};width:{Css.Px(entry.Width)}");
        html.Set("aria-hidden", "true");
        html.Set("data-part", entry.Part.ToString());
        if (entry.Icon is { } icon) html.Icon(icon);
        html.Span("lectica-label", entry.Label);
        html.CloseElement();
    }

    private void DrawBody(RenderTreeBuilder html, [CallerLineNumber] int line = 0)
    {
        html.OpenRegion(2 * line);
        html.Open("div", "lectica-body");
        if (List.IsGrid)
        {
            html.Set("role", Cell);
            html.Set("id", Look.Outer.Id + "-body");
            html.Set("style", BodyPosition);
        }
        if (Row.Reading == RowReading.Pending)
        {
            // Where the words will be; the row itself is named.
            html.Open("span", "lectica-words");
            html.Set("role", "img");
            html.Set("aria-label", Row.Content.Label);
            html.Set("style", $"--lectica-words:{34 + (Row.Index * 17 % 31)}%");
            html.CloseElement();
        }
        else if (Row.Reading == RowReading.Failed)
        {
            html.Icon("alert");
            html.Span("lectica-label", Row.Content.Label, runsAsItsScript: true);
            html.Span("lectica-offer", Row.Content.Detail ?? "", runsAsItsScript: true);
        }
        else if (List.Row is { } template)
        {
            html.Add(template(new(Look.Outer.Item!, Row)));
        }
        else
        {
            html.Span("lectica-label", Row.Content.Label, runsAsItsScript: true);
            // A tile is one cell: its words are read one after the other.
            if (Row.IsTile) html.Text(" ");
            if (Row.Content.Detail is { } detail) html.Span("lectica-detail", detail, runsAsItsScript: true);
        }
        html.CloseElement();
        html.CloseRegion();
    }

    private void DrawCells(RenderTreeBuilder html, [CallerLineNumber] int line = 0)
    {
        html.OpenRegion(2 * line);
        for (var i = 0; i < List.Columns.Count; i++)
        {
            var (left, width) = FieldAt(i);
            html.Open("div", "lectica-body lectica-field" + (List.Columns[i].AlignsEnd ? " is-end" : ""));
            html.Set("role", "gridcell");
            html.Set("style", $"left:{Css.Px(left)};width:{Css.Px(width)}");
            html.Span(i == 0 ? "lectica-label" : "lectica-detail", Row.Cells[i], runsAsItsScript: true);
            html.CloseElement();
        }
        html.CloseRegion();
    }

    private void DrawParts(RenderTreeBuilder html, [CallerLineNumber] int line = 0)
    {
        html.OpenRegion(2 * line);
        foreach (var part in Row.Parts) DrawPart(html, part);
        html.CloseRegion();
    }

    private void DrawPart(RenderTreeBuilder html, PartFrame part)
    {
        html.Open("div", part.IsCursor ? "lectica-cell is-cursor" : "lectica-cell");
        html.Set("role", Cell);
        html.Set("id", $"{Look.Outer.Id}-{ElementId.Of(part.Part)}");
        html.Set("style", $"{PositionOf(part)};touch-action:{part.TouchAction}");
        html.Set("data-part", part.Part.ToString());
        switch (part.Part.Kind)
        {
            case PartKind.Check:
                html.Open("span", "lectica-box");
                html.Set("role", "checkbox");
                html.Set("aria-checked", Checked(part));
                html.Set("aria-label", Row.Branch is null ? List.Phrases.Select : List.Phrases.SelectBranch);
                html.Set("aria-disabled", Row.IsDisabled ? "true" : null);
                break;
            case PartKind.Mark:
                html.Open("span", "lectica-mark lectica-mark-" + (part.Icon is null ? part.Look.ToString().ToLowerInvariant() : "icon"));
                html.Set("role", "checkbox");
                html.Set("aria-checked", part.IsOn ? "true" : "false");
                html.Set("aria-label", List.NameOf(part));
                html.Icon(MarkIcon(part));
                if (part.Count is > 0 and var count) html.Span("lectica-tally", List.Phrases.Number(count));
                break;
            case PartKind.Expander:
                var reading = Row.Branch!.Reading;
                html.Open("span", "lectica-expander" + reading switch
                {
                    RowReading.Failed => " is-failed",
                    RowReading.Done when !part.IsOn => " is-collapsed",
                    _ => "",
                });
                html.Set("role", "button");
                html.Set("aria-label", reading == RowReading.Failed ? List.Phrases.Retry
                    : part.IsOn ? List.Phrases.Collapse : List.Phrases.Expand);
                html.Icon(reading switch { RowReading.Pending => "loading", RowReading.Failed => "alert", _ => "down" });
                break;
            case PartKind.Menu:
                html.Open("span", "lectica-more");
                html.Set("role", "button");
                html.Set("aria-haspopup", "menu");
                html.Set("aria-label", List.Phrases.Menu);
                html.Icon("more");
                break;
            default:
                html.Open("span", "lectica-handle");
                html.Set("role", "button");
                html.Set("aria-label", List.Phrases.Move);
                html.Icon("handle");
                break;
        }
        html.CloseElement();
        html.CloseElement();
    }

    // A row that settles glides there by a transition of the style sheet.
    private string? Slide =>
        Row.Shift == default ? null
        : $"transform:translate{(List.IsStrip ? "Y" : "X")}({Css.Number(Row.Shift.To)}px);" +
            $"transition-duration:{Css.Number(Row.Shift.Duration)}ms";

    // Said so that they hold for a row of any width: a page may be drawn before it is known how wide the list is.
    private string BodyPosition =>
        Row.IsTile ? $"left:{Css.Px(Row.BodyLeft)};width:{Css.Px(Row.BodyWidth)}"
        : $"left:{Css.Px(Row.BodyLeft)};width:calc(100% - {Css.Px(Row.Width - Row.BodyWidth)})";

    private string PositionOf(PartFrame part) =>
        Row.IsTile || part.Left + (part.Width / 2) < Row.Width / 2 ? $"left:{Css.Px(part.Left)};width:{Css.Px(part.Width)}"
        : $"left:calc(100% - {Css.Px(Row.Width - part.Left)});width:{Css.Px(part.Width)}";

    // The first field begins with its row's body, which in an outline is further in.
    private (double Left, double Width) FieldAt(int column)
    {
        var header = List.Columns[column];
        var (left, right) = (Math.Max(header.Left, Row.BodyLeft), Math.Min(header.Left + header.Width, Row.BodyLeft + Row.BodyWidth));
        return (left, Math.Max(0, right - left));
    }

    // The box of a branch stands for all that is below it.
    private string Checked(PartFrame part) =>
        (Row.Branch?.State ?? (part.IsOn ? TriState.On : TriState.Off)) switch
        {
            TriState.On => "true",
            TriState.Mixed => "mixed",
            _ => "false",
        };

    private static string MarkIcon(PartFrame part) => part.Icon ?? part.Look switch
    {
        MarkLook.Star => "star",
        MarkLook.Flag => "flag",
        MarkLook.Tick when part.IsOn => "tick",
        _ => "ring",
    };
}
