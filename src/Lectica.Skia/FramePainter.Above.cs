using Lectica.Frames;
using Lectica.Layout;
using SkiaSharp;

namespace Lectica.Skia;

// What lies above the rows: a carried card, a pull, a marquee, the scroll bar.
public sealed partial class FramePainter
{
    private void Grabbed(SKCanvas canvas, Frame frame, GrabFrame grab)
    {
        var width = (float)frame.Viewport.Width;
        // Rows make room for what belongs to the list; for what comes from another there is only a line.
        if (grab is { IsGuest: true, GapY: { } gap })
        {
            using var line = Stroke(theme.Accent, 3);
            if (grab.GapX is { } x) canvas.DrawLine((float)x, (float)gap, (float)x, (float)(gap + grab.GapHeight), line);
            else canvas.DrawLine(0, (float)gap, width, (float)gap, line);
        }
        if (!grab.HasCard) return;
        var isTile = grab.Row?.IsTile ?? grab.GapX is not null;
        var area = isTile ? SKRect.Create((float)grab.Left, (float)grab.Top, (float)grab.Width, (float)grab.Height)
            : SKRect.Create(6, (float)grab.Top, width - 12, (float)grab.Height - 2);
        using var edge = Stroke(theme.Divider, 1);
        using var ground = new SKPaint { Color = theme.Raised, IsAntialias = true };
        // Behind it, that there are more.
        for (var under = Math.Min(2, grab.Count - 1); under > 0; under--)
        {
            var card = area;
            card.Offset(under * 3, under * 4);
            canvas.DrawRoundRect(card, 8, 8, ground);
            canvas.DrawRoundRect(card, 8, 8, edge);
        }
        Raise(canvas, area, theme.Raised, 8);
        canvas.Save();
        using (var shape = new SKRoundRect(area, 8, 8)) canvas.ClipRoundRect(shape, antialias: true);
        var right = grab.Refusal is not null ? 44 : grab.Count > 1 ? 52 : 0;
        if (grab.Row is { } row)
        {
            Fill(canvas, area, row.IsSelected ? theme.Selected : theme.Raised);
            if (row.IsTile) TileInside(canvas, frame, row with { IsDisabled = false }, area);
            foreach (var part in row.IsTile ? [] : row.Parts.Where(p => p.Part.Kind != PartKind.Handle || right == 0))
                PartOf(canvas, frame, row, part, area);
            if (!row.IsTile)
                Body(canvas, frame, row with { BodyWidth = Math.Max(0, row.BodyWidth - (right == 0 ? 0 : 8)), IsDisabled = false }, area);
        }
        else
        {
            using var label = Fonts.Regular(16);
            Text(canvas, label, grab.Content.Label, theme.Text, area.Left + Margin, area.Width - 80, area.MidY + 5.5f, frame.IsRightToLeft);
        }
        canvas.Restore();
        canvas.DrawRoundRect(area, 8, 8, edge);
        var end = frame.IsRightToLeft ? area.Left + 26 : area.Right - 26;
        if (grab.Refusal is not null)
        {
            // That it cannot be dropped is said by a sign, not by colour alone.
            Icons.Draw(canvas, "refused", new(end, area.MidY), theme.Destructive, size: 24);
            return;
        }
        if (grab.Count < 2) return;
        using var badge = new SKPaint { Color = theme.Accent, IsAntialias = true };
        var number = grab.Count.ToString(System.Globalization.CultureInfo.InvariantCulture);
        using var font = Fonts.Bold(14);
        var wide = Math.Max(26, font.MeasureText(number) + 16);
        canvas.DrawRoundRect(SKRect.Create(end - (wide / 2), area.MidY - 13, wide, 26), 13, 13, badge);
        using var ink = new SKPaint { Color = theme.OnAccent, IsAntialias = true };
        canvas.DrawText(number, end, area.MidY + 5, SKTextAlign.Center, font, ink);
    }

    /// <summary>What a pull uncovers: its lower end shows first.</summary>
    private void PulledDown(SKCanvas canvas, Frame frame, PullFrame pull)
    {
        using var font = Fonts.Bold(14);
        float wide = font.MeasureText(pull.Text) + 60, top = (float)pull.Height - 48, left = ((float)frame.Viewport.Width - wide) / 2;
        var chip = SKRect.Create(left, top, wide, 40);
        canvas.Save();
        canvas.ClipRect(SKRect.Create(0, 0, (float)frame.Viewport.Width, (float)pull.Height));
        using var ground = new SKPaint { IsAntialias = true, Color = pull.IsArmed ? theme.Accent : theme.Background };
        using var edge = Stroke(theme.Divider, 1);
        canvas.DrawRoundRect(chip, 20, 20, ground);
        canvas.DrawRoundRect(chip, 20, 20, edge);
        var ink = pull.IsArmed ? theme.OnAccent : theme.Text;
        var at = frame.IsRightToLeft ? chip.Right - 26 : chip.Left + 26;
        canvas.Save();
        canvas.RotateDegrees((float)pull.Turn * 270, at, chip.MidY);
        Icons.Draw(canvas, pull.IsUnderWay ? "loading" : "retry", new(at, chip.MidY), ink, size: 20);
        canvas.Restore();
        Text(canvas, font, pull.Text, ink, frame.IsRightToLeft ? chip.Left + 16 : chip.Left + 44, wide - 56, chip.MidY + 5,
            frame.IsRightToLeft);
        canvas.Restore();
    }

    private void MarqueeOf(SKCanvas canvas, MarqueeFrame marquee)
    {
        var area = SKRect.Create((float)marquee.Left, (float)marquee.Top, (float)marquee.Width, (float)marquee.Height);
        using var fill = new SKPaint { Color = theme.Accent.WithAlpha(0x22) };
        canvas.DrawRect(area, fill);
        using var dashes = SKPathEffect.CreateDash([6, 3], 0);
        using var stroke = Stroke(theme.Accent, 1.5f);
        stroke.PathEffect = dashes;
        canvas.DrawRect(area, stroke);
    }

    private void Scroll(SKCanvas canvas, Frame frame, ScrollThumb thumb)
    {
        using var ink = new SKPaint { Color = theme.Quiet.WithAlpha(0x99), IsAntialias = true };
        float wide = (float)frame.Viewport.Width, from = (float)thumb.Top + 2, length = (float)thumb.Length - 4;
        var bar = frame.IsStrip
            ? SKRect.Create(frame.IsRightToLeft ? wide - from - length : from, (float)frame.Viewport.Height - 8, length, 5)
            : SKRect.Create(frame.IsRightToLeft ? 3 : wide - 8, from, 5, length);
        canvas.DrawRoundRect(bar, 2.5f, 2.5f, ink);
    }
}
