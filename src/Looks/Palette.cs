namespace Lectica.Looks;

/// <summary>A colour on light ground and on dark, as 0xRRGGBB.</summary>
internal readonly record struct Tone(uint Light, uint Dark);

/// <summary>
/// Our colours. The style sheet of the page has the same ones under the same names; a test holds both together. Contrasts are those of WCAG
/// 2.2: text 7:1, quiet text and what is written on a role 4.5:1, what is disabled, boxes, rings and icons 3:1, on whatever they stand on.
/// </summary>
internal static class Palette
{
    public static Tone Background { get; } = new(0xFFFFFF, 0x14181F);

    public static Tone Header { get; } = new(0xF1F3F5, 0x1C222C);

    public static Tone Text { get; } = new(0x1B1F27, 0xECEFF4);

    public static Tone Quiet { get; } = new(0x535D6D, 0xA9B4C2);

    public static Tone Disabled { get; } = new(0x767F8D, 0x7D8899);

    public static Tone Divider { get; } = new(0xD8DCE2, 0x343D4B);

    public static Tone Accent { get; } = new(0x0B6573, 0x6CC7D6);

    public static Tone OnAccent { get; } = new(0xFFFFFF, 0x10151C);

    public static Tone Selected { get; } = new(0xE0F0F2, 0x17343B);

    public static Tone Hovered { get; } = new(0xF6F8F9, 0x1A2029);

    public static Tone Pressed { get; } = new(0xE6EAEE, 0x2C3543);

    /// <summary>Behind what is carried: on dark ground, where a shadow hardly shows, it is lighter than the rows.</summary>
    public static Tone Raised { get; } = new(0xFFFFFF, 0x222A36);

    /// <summary>The place that what is carried would take.</summary>
    public static Tone Gap { get; } = new(0xE9EDF0, 0x0D1116);

    public static Tone Neutral { get; } = new(0x45516A, 0xA9B8D6);

    public static Tone Positive { get; } = new(0x2F6B3A, 0x86C98F);

    public static Tone Warning { get; } = new(0x865700, 0xF0B35A);

    public static Tone Destructive { get; } = new(0xA3261D, 0xFF9A8A);

    /// <summary>What is written on the colour of a role.</summary>
    public static Tone OnRole { get; } = new(0xFFFFFF, 0x10151C);
}
