using SkiaSharp;

namespace Lectica.Skia;

/// <summary>The colours of a drawn list. No state is told by colour alone, so any set of colours will do that has contrast.</summary>
public sealed record Theme
{
    /// <summary>Dark on light.</summary>
    public static Theme Light { get; } = new();

    /// <summary>Light on dark.</summary>
    public static Theme Dark { get; } = new()
    {
        Background = new(0xFF14181F),
        Header = new(0xFF1C222C),
        Text = new(0xFFECEFF4),
        Quiet = new(0xFFA9B4C2),
        Divider = new(0xFF343D4B),
        Accent = new(0xFFF0B35A),
        Selected = new(0xFF3A3122),
        Pressed = new(0xFF2C3543),
        Pointer = new(0x66F0B35A),
        OnAccent = new(0xFF14181F),
    };

    /// <summary>Behind the rows.</summary>
    public SKColor Background { get; init; } = new(0xFFFFFFFF);

    /// <summary>Behind the title.</summary>
    public SKColor Header { get; init; } = new(0xFFF3F1EC);

    /// <summary>Labels; at least 7:1 on the background.</summary>
    public SKColor Text { get; init; } = new(0xFF1B1F27);

    /// <summary>Details and notices; at least 4.5:1 on the background.</summary>
    public SKColor Quiet { get; init; } = new(0xFF596273);

    /// <summary>The lines between rows.</summary>
    public SKColor Divider { get; init; } = new(0xFFD9D6CE);

    /// <summary>Bars, boxes and rings; at least 3:1 on the background.</summary>
    public SKColor Accent { get; init; } = new(0xFF7A4E08);

    /// <summary>What is written on the accent.</summary>
    public SKColor OnAccent { get; init; } = new(0xFFFFFFFF);

    /// <summary>Behind a selected row.</summary>
    public SKColor Selected { get; init; } = new(0xFFFBF0DA);

    /// <summary>Behind a pressed row.</summary>
    public SKColor Pressed { get; init; } = new(0xFFE9E6DF);

    /// <summary>Where a pointer is, in film strips.</summary>
    public SKColor Pointer { get; init; } = new(0x667A4E08);
}
