using Lectica.Frames;
using Lectica.Layout;
using Lectica.Marking;
using Lectica.Selecting;
using Microsoft.AspNetCore.Components;
using Microsoft.AspNetCore.Components.Rendering;

namespace Lectica.Blazor;

/// <summary>What the inside of an item's row is drawn from.</summary>
/// <param name="Outer">The row.</param>
public sealed record RowInside<TItem>(RowLook<TItem> Outer)
{
    /// <summary>Whether both look the same inside, wherever in the list they lie.</summary>
    public bool Equals(RowInside<TItem>? other) => other is not null && Outer.IsSameInside(other.Outer);

    /// <inheritdoc/>
    public override int GetHashCode() => Outer.Id.GetHashCode(StringComparison.Ordinal);
}

/// <summary>The inside of an item's row: apart, since a row moves more often than it changes.</summary>
public sealed partial class RowInsideElement<TItem>
{
    private RowFrame Shown => Look.Outer.Row;

    // A tile is one cell of its line, whatever is in it.
    private string? Cell => Shown.IsTile ? null : "gridcell";

    // A row that settles glides there by a transition of the style sheet.
    private string? Slide =>
        Shown.Shift == default ? null
        : $"transform:translate{(Look.Outer.List.IsStrip ? "Y" : "X")}({Css.Number(Shown.Shift.To)}px);transition-duration:{Css.Number(Shown.Shift.Duration)}ms";

    // Said so that they hold for a row of any width: a page may be drawn before it is known how wide the list is.
    private string BodyPlace =>
        Shown.IsTile ? $"left:{Css.Px(Shown.BodyLeft)};width:{Css.Px(Shown.BodyWidth)}"
        : $"left:{Css.Px(Shown.BodyLeft)};width:calc(100% - {Css.Px(Shown.Width - Shown.BodyWidth)})";

    private string PartPlace(PartFrame part) =>
        Shown.IsTile || part.Left + (part.Width / 2) < Shown.Width / 2 ? $"left:{Css.Px(part.Left)};width:{Css.Px(part.Width)}"
        : $"left:calc(100% - {Css.Px(Shown.Width - part.Left)});width:{Css.Px(part.Width)}";

    // The first field begins with its row's body, which in an outline is further in.
    private (double Left, double Width) PlaceOf(int column)
    {
        var header = Look.Outer.List.Columns[column];
        var (left, right) = (Math.Max(header.Left, Shown.BodyLeft), Math.Min(header.Left + header.Width, Shown.BodyLeft + Shown.BodyWidth));
        return (left, Math.Max(0, right - left));
    }

    // The box of a branch stands for all that is below it.
    private string Checked(PartFrame part) =>
        (Shown.Branch?.State ?? (part.IsOn ? TriState.On : TriState.Off)) switch
        {
            TriState.On => "true",
            TriState.Mixed => "mixed",
            _ => "false",
        };

    private RenderFragment Body => builder =>
    {
        if (Shown.Reading == RowReading.Pending)
        {
            // Where the words will be; the row itself is named.
            builder.OpenElement(10, "span");
            builder.AddAttribute(11, "class", "lectica-words");
            builder.AddAttribute(12, "role", "img");
            builder.AddAttribute(13, "aria-label", Shown.Content.Label);
            builder.AddAttribute(14, "style", $"--lectica-words:{34 + (Shown.Index * 17 % 31)}%");
            builder.CloseElement();
            return;
        }
        if (Shown.Reading == RowReading.Failed)
        {
            builder.AddContent(15, Svg.Of("alert"));
            Line(builder, 16, "lectica-label", Shown.Content.Label);
            Line(builder, 20, "lectica-offer", Shown.Content.Detail ?? "");
            return;
        }
        if (Look.Outer.List.Row is { } template)
        {
            builder.AddContent(0, template(new(Look.Outer.Item!, Shown)));
            return;
        }
        Line(builder, 1, "lectica-label", Shown.Content.Label);
        // A tile is one cell: its words are read one after the other.
        if (Shown.IsTile) builder.AddContent(5, " ");
        if (Shown.Content.Detail is { } detail) Line(builder, 6, "lectica-detail", detail);
    };

    // Whatever a tray has the menu has too, so a screen reader is not told of it twice.
    private RenderFragment Tray => builder =>
    {
        foreach (var entry in Shown.Tray)
        {
            builder.OpenElement(0, "div");
            builder.AddAttribute(
                1, "class", $"lectica-tray is-{entry.Role.ToString().ToLowerInvariant()}{(entry.IsArmed ? " is-armed" : "")}");
            builder.AddAttribute(2, "style", Look.Outer.List.IsStrip ? $"top:{Css.Px(entry.Left)};height:{Css.Px(entry.Width)}"
                : $"left:{Css.Px(entry.Left)};width:{Css.Px(entry.Width)}");
            builder.AddAttribute(3, "aria-hidden", "true");
            builder.AddAttribute(4, "data-part", entry.Part.ToString());
            if (entry.Icon is { } icon) builder.AddContent(5, Svg.Of(icon));
            builder.OpenElement(6, "span");
            builder.AddAttribute(7, "class", "lectica-label");
            builder.AddContent(8, entry.Label);
            builder.CloseElement();
            builder.CloseElement();
        }
    };

    private static string MarkIcon(PartFrame part) => part.Look switch
    {
        MarkLook.Star => "star",
        MarkLook.Flag => "flag",
        MarkLook.Tick when part.IsOn => "tick",
        _ => "ring",
    };

    private static void Line(RenderTreeBuilder builder, int at, string look, string text)
    {
        builder.OpenElement(at, "span");
        builder.AddAttribute(at + 1, "class", look);
        // Words run as their own script does: what is cut off is their end.
        builder.AddAttribute(at + 2, "dir", "auto");
        builder.AddContent(at + 3, text);
        builder.CloseElement();
    }
}
