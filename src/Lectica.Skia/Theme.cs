using Lectica.Acts;
using Lectica.Looks;
using SkiaSharp;

namespace Lectica.Skia;

/// <summary>The colours of a drawn list. No state is told by colour alone, so any set of colours will do that has contrast.</summary>
public sealed record Theme
{
    /// <summary>Dark on light.</summary>
    public static Theme Light { get; } = Of(tone => tone.Light);

    /// <summary>Light on dark.</summary>
    public static Theme Dark { get; } = Of(tone => tone.Dark);

    private static Theme Of(Func<Tone, uint> ground)
    {
        SKColor Colour(Tone tone) => new(0xFF000000 | ground(tone));
        return new()
        {
            Background = Colour(Palette.Background),
            Header = Colour(Palette.Header),
            Text = Colour(Palette.Text),
            Quiet = Colour(Palette.Quiet),
            Disabled = Colour(Palette.Disabled),
            Divider = Colour(Palette.Divider),
            Accent = Colour(Palette.Accent),
            OnAccent = Colour(Palette.OnAccent),
            Selected = Colour(Palette.Selected),
            Pressed = Colour(Palette.Pressed),
            Raised = Colour(Palette.Raised),
            Gap = Colour(Palette.Gap),
            Neutral = Colour(Palette.Neutral),
            Positive = Colour(Palette.Positive),
            Warning = Colour(Palette.Warning),
            Destructive = Colour(Palette.Destructive),
            OnRole = Colour(Palette.OnRole),
            Pointer = Colour(Palette.Accent).WithAlpha(0x66),
        };
    }

    /// <summary>Behind the rows.</summary>
    public required SKColor Background { get; init; }

    /// <summary>Behind the title.</summary>
    public required SKColor Header { get; init; }

    /// <summary>Labels; at least 7:1 on the background.</summary>
    public required SKColor Text { get; init; }

    /// <summary>Details and notices; at least 4.5:1 on the background.</summary>
    public required SKColor Quiet { get; init; }

    /// <summary>What is disabled; at least 3:1 on the background.</summary>
    public required SKColor Disabled { get; init; }

    /// <summary>The lines between rows.</summary>
    public required SKColor Divider { get; init; }

    /// <summary>Bars, boxes and rings; at least 3:1 on the background.</summary>
    public required SKColor Accent { get; init; }

    /// <summary>What is written on the accent.</summary>
    public required SKColor OnAccent { get; init; }

    /// <summary>Behind a selected row.</summary>
    public required SKColor Selected { get; init; }

    /// <summary>Behind a pressed row.</summary>
    public required SKColor Pressed { get; init; }

    /// <summary>Behind what is carried.</summary>
    public required SKColor Raised { get; init; }

    /// <summary>The place that what is carried would take.</summary>
    public required SKColor Gap { get; init; }

    /// <summary>A command of no special kind.</summary>
    public required SKColor Neutral { get; init; }

    /// <summary>A command that is good for its items.</summary>
    public required SKColor Positive { get; init; }

    /// <summary>A command to be careful with.</summary>
    public required SKColor Warning { get; init; }

    /// <summary>A command that loses something.</summary>
    public required SKColor Destructive { get; init; }

    /// <summary>What is written on the colour of a role; at least 4.5:1.</summary>
    public required SKColor OnRole { get; init; }

    /// <summary>Where a pointer is, in film strips.</summary>
    public required SKColor Pointer { get; init; }

    /// <summary>The colour of a role.</summary>
    public SKColor ColourOf(CommandRole role) => role switch
    {
        CommandRole.Positive => Positive,
        CommandRole.Warning => Warning,
        CommandRole.Destructive => Destructive,
        _ => Neutral,
    };
}
