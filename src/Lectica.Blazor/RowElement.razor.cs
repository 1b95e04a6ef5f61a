using System.Globalization;
using Lectica.Acts;
using Lectica.Frames;
using Lectica.Layout;
using Lectica.Selecting;
using Microsoft.AspNetCore.Components;
using Microsoft.AspNetCore.Components.Rendering;

namespace Lectica.Blazor;

/// <summary>One row as elements.</summary>
public sealed partial class RowElement<TItem> : ComponentBase
{
    private RowFrame? _drawn;
    private (double, bool, string, int) _drawnAt;

    /// <summary>The row.</summary>
    [Parameter, EditorRequired] public RowFrame Row { get; set; } = null!;

    /// <summary>Its element's id.</summary>
    [Parameter, EditorRequired] public string Id { get; set; } = "";

    /// <summary>Its item, for the template.</summary>
    [Parameter] public TItem? Item { get; set; }

    /// <summary>Its item's key as text.</summary>
    [Parameter] public string? KeyText { get; set; }

    /// <summary>Where it lies in the scrolled element, px.</summary>
    [Parameter] public double Top { get; set; }

    /// <summary>Whether rows hold controls.</summary>
    [Parameter] public bool IsGrid { get; set; }

    /// <summary>How many rows the list has.</summary>
    [Parameter] public int RowCount { get; set; }

    /// <summary>Which parts rows have.</summary>
    [Parameter] public RowParts Parts { get; set; } = new();

    /// <summary>The list's words.</summary>
    [Parameter] public Phrases Phrases { get; set; } = Phrases.English;

    /// <summary>The label of a mark.</summary>
    [Parameter] public Func<string, string> MarkLabelOf { get; set; } = name => name;

    /// <summary>How the browser may use touches on a part.</summary>
    [Parameter] public Func<PartKind, string> TouchActionOf { get; set; } = _ => "pan-y";

    /// <summary>Draws an item's body; its label and detail where null.</summary>
    [Parameter] public RenderFragment<RowContext<TItem>>? Template { get; set; }

    /// <summary>Draws a heading.</summary>
    [Parameter] public RenderFragment<RowFrame>? Heading { get; set; }

    /// <summary>Draws a notice.</summary>
    [Parameter] public RenderFragment<RowFrame>? Notice { get; set; }

    /// <inheritdoc/>
    protected override bool ShouldRender()
    {
        // TouchActionOf follows what rules follow: whether taps toggle, which the look of all rows tells through RowCount's owner.
        var at = (Top, IsGrid, Id + TouchActionOf(PartKind.Check), RowCount);
        if (_drawn is { } drawn && at == _drawnAt && Same(drawn, Row)) return false;
        (_drawn, _drawnAt) = (Row, at);
        return true;
    }

    private static bool Same(RowFrame a, RowFrame b) => ReferenceEquals(a, b)
        || (a with { Top = 0, TopBefore = null, Parts = [], Tray = [] } == b with { Top = 0, TopBefore = null, Parts = [], Tray = [] } && a.Parts.SequenceEqual(b.Parts) && a.Tray.SequenceEqual(b.Tray));

    private static string Px(double value) => string.Create(CultureInfo.InvariantCulture, $"{value:0.##}px");

    private string Place => string.Create(CultureInfo.InvariantCulture, $"transform:translateY({Top:0.##}px);height:{Row.Height:0.##}px");

    // A row that settles glides there by a transition of the style sheet.
    private string? Slide => Row.Shift == default ? null
        : string.Create(CultureInfo.InvariantCulture, $"transform:translateX({Row.Shift.To:0.##}px);transition-duration:{Row.Shift.Duration:0}ms");

    private static string Checked(TriState state) => state switch { TriState.On => "true", TriState.Mixed => "mixed", _ => "false" };

    private RenderFragment Body => builder =>
    {
        if (Template is { } template)
        {
            builder.AddContent(0, template(new(Item!, Row)));
            return;
        }
        Line(builder, 1, "lectica-label", Row.Content.Label);
        if (Row.Content.Detail is { } detail) Line(builder, 5, "lectica-detail", detail);
    };

    // Whatever a tray has the menu has too, so a screen reader is not told of it twice.
    private RenderFragment Tray => builder =>
    {
        foreach (var entry in Row.Tray)
        {
            builder.OpenElement(0, "div");
            builder.AddAttribute(1, "class", $"lectica-tray is-{entry.Role.ToString().ToLowerInvariant()}{(entry.IsArmed ? " is-armed" : "")}");
            builder.AddAttribute(2, "style", $"left:{Px(entry.Left)};width:{Px(entry.Width)}");
            builder.AddAttribute(3, "aria-hidden", "true");
            builder.AddAttribute(4, "data-part", entry.Part.ToString());
            builder.AddContent(5, entry.Label);
            builder.CloseElement();
        }
    };

    private static void Line(RenderTreeBuilder builder, int at, string look, string text)
    {
        builder.OpenElement(at, "span");
        builder.AddAttribute(at + 1, "class", look);
        builder.AddContent(at + 2, text);
        builder.CloseElement();
    }
}
