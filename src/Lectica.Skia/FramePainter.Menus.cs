using System.Collections.Immutable;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Frames;
using SkiaSharp;

namespace Lectica.Skia;

// Commands, wherever they are offered: in menus, in a toolbar, in a notice.
public sealed partial class FramePainter
{
    private const float Corner = 10;

    private const float SheetCorner = 16;

    private void MenuOf(SKCanvas canvas, Menu menu, bool showsRing)
    {
        // What is not of a sheet steps back.
        if (menu.IsSheet) canvas.DrawColor(new(0, 0, 0, 92), SKBlendMode.SrcOver);
        MenuPanel(canvas, menu, menu.Entries, menu.Bounds, menu.At, menu.ScrollTop, menu.TitleHeight, showsRing);
        if (menu.SubmenuBounds is { } place)
            MenuPanel(canvas, menu, menu.Submenu, place, menu.SubmenuAt, menu.SubmenuScrollTop, titleHeight: 0, showsRing);
    }

    private void MenuPanel(
        SKCanvas canvas, Menu menu, ImmutableArray<MenuEntry> entries, MenuBounds place, int at, double scrollTop, double titleHeight,
        bool showsRing)
    {
        var area = SKRect.Create((float)place.Left, (float)place.Top, (float)place.Width, (float)place.Height);
        var (corner, high) = (menu.IsSheet ? SheetCorner : Corner, (float)menu.EntryHeight);
        // A sheet ends with its window: its lower corners are beyond.
        var body = menu.IsSheet ? area with { Bottom = area.Bottom + corner } : area;
        Raise(canvas, body, theme.Raised, corner);
        using var edge = Stroke(theme.Divider, 1);
        canvas.Save();
        using (var shape = new SKRoundRect(body, corner, corner)) canvas.ClipRoundRect(shape, antialias: true);
        var top = area.Top + (float)titleHeight;
        if (titleHeight > 0)
        {
            using var bold = Fonts.Bold(16);
            Text(canvas, bold, menu.Title, theme.Text, area.Left + 16, area.Width - 32, area.Top + ((float)titleHeight / 2) + 5.5f,
                menu.IsRightToLeft);
            canvas.DrawLine(area.Left, top, area.Right, top, edge);
        }
        canvas.ClipRect(area with { Top = top });
        for (var i = 0; i < entries.Length; i++)
        {
            var row = SKRect.Create(area.Left, top + (i * high) - (float)scrollTop, area.Width, high);
            if (row.Bottom <= top || row.Top >= area.Bottom) continue;
            if (entries[i].BeginsGroup) canvas.DrawLine(row.Left, row.Top, row.Right, row.Top, edge);
            MenuRow(canvas, entries[i], row, isCursor: i == at, showsRing, menu.IsRightToLeft);
        }
        canvas.Restore();
        canvas.DrawRoundRect(body, corner, corner, edge);
    }

    private void MenuRow(SKCanvas canvas, MenuEntry entry, SKRect row, bool isCursor, bool showsRing, bool rightToLeft)
    {
        if (isCursor)
        {
            using var ground = new SKPaint { Color = theme.Pressed, IsAntialias = true };
            canvas.DrawRoundRect(SKRect.Inflate(row, -2, -2), 8, 8, ground);
            using var ring = Stroke(theme.Accent, 2);
            if (showsRing) canvas.DrawRoundRect(SKRect.Inflate(row, -2, -2), 8, 8, ring);
        }
        using var font = Fonts.Regular(16);
        using var small = Fonts.Regular(13);
        var colour = WordColour(entry.Role, entry.IsEnabled);
        float iconX = rightToLeft ? row.Right - 25 : row.Left + 25, endX = rightToLeft ? row.Left + 22 : row.Right - 22;
        if (entry.IsChecked == true) Icons.Draw(canvas, "tick", new(iconX, row.MidY), theme.Accent);
        else if (entry.Icon is { } icon) Icons.Draw(canvas, icon, new(iconX, row.MidY), IconColour(entry.Role, entry.IsEnabled));
        var keys = entry.Entries.IsEmpty ? entry.Keys : null;
        var end = keys is null ? entry.Entries.IsEmpty ? 14 : 40 : small.MeasureText(keys) + 26;
        Text(canvas, font, entry.Label, colour, row.Left + (rightToLeft ? end : 48), row.Width - 48 - end, row.MidY + 5.5f, rightToLeft);
        if (!entry.Entries.IsEmpty) Icons.Draw(canvas, rightToLeft ? "back" : "forward", new(endX, row.MidY), colour, size: 18);
        else if (keys is not null) Text(canvas, small, keys, theme.Quiet, row.Left + 14, row.Width - 28, row.MidY + 4.5f, !rightToLeft);
    }

    // What cannot be undone lightly says so by its words too.
    private SKColor WordColour(CommandRole role, bool isEnabled) =>
        !isEnabled ? theme.Disabled : role == CommandRole.Destructive ? theme.Destructive : theme.Text;

    private SKColor IconColour(CommandRole role, bool isEnabled) =>
        !isEnabled ? theme.Disabled : role == CommandRole.Neutral ? theme.Text : theme.ColourOf(role);

    private void Brief(SKCanvas canvas, Frame frame, BriefNotice notice)
    {
        var area = SKRect.Create(12, (float)frame.Viewport.Height - 56, (float)frame.Viewport.Width - 24, 44);
        var rightToLeft = frame.IsRightToLeft;
        Raise(canvas, area, theme.Text, Corner);
        using var font = Fonts.Regular(16);
        using var bold = Fonts.Bold(16);
        var button = notice.Offer is { } offer ? 28 + bold.MeasureText(offer) + 24 : 0;
        float from = area.Left + (rightToLeft ? 14 + button : 48), room = area.Width - 62 - button;
        Icons.Draw(canvas, notice.OffersUndo ? "tick" : notice.OffersRetry ? "alert" : "details",
            new(rightToLeft ? area.Right - 25 : area.Left + 25, area.MidY), theme.Background);
        Text(canvas, font, notice.Text, theme.Background, from, room, area.MidY + 5.5f, rightToLeft);
        if (notice.Offer is null) return;
        var left = rightToLeft ? area.Left + 12 : area.Right - button;
        Icons.Draw(canvas, notice.OffersRetry ? "retry" : "undo",
            new(rightToLeft ? left + button - 23 : left + 11, area.MidY), theme.Background);
        Text(canvas, bold, notice.Offer, theme.Background, rightToLeft ? left : left + 28, button - 40, area.MidY + 5.5f, rightToLeft);
    }

    /// <summary>Draws a toolbar into a picture: what fits, then the button of the overflow menu where there is one.</summary>
    public SKData ToPng(Toolbar toolbar, double width, float scale = 2)
    {
        ArgumentNullException.ThrowIfNull(toolbar);
        return Png.Draw((float)width, 56, scale, canvas =>
        {
            canvas.Clear(theme.Header);
            var left = 0f;
            foreach (var entry in toolbar.Shown)
            {
                Tool(canvas, entry, SKRect.Create(left, 6, (float)entry.Width, 44));
                left += (float)entry.Width;
            }
            if (!toolbar.Overflow.IsEmpty) Icons.Draw(canvas, "more", new((float)width - 22, 28), theme.Text);
        });
    }

    private void Tool(SKCanvas canvas, ToolbarEntry entry, SKRect area)
    {
        if (entry.IsChecked == true)
        {
            using var ground = new SKPaint { Color = theme.Selected, IsAntialias = true };
            using var edge = Stroke(theme.Accent, 1);
            canvas.DrawRoundRect(SKRect.Inflate(area, -3, -3), Corner, Corner, ground);
            canvas.DrawRoundRect(SKRect.Inflate(area, -4, -4), Corner, Corner, edge);
        }
        using var font = Fonts.Regular(16);
        var colour = WordColour(entry.Role, entry.IsEnabled);
        var isBare = entry is { Icon: not null, Width: Toolbar.OverflowWidth };
        var hasIcon = entry.Icon is not null && (isBare || 50 + font.MeasureText(entry.Label) <= area.Width);
        if (hasIcon) Icons.Draw(canvas, entry.Icon!, new(isBare ? area.MidX : area.Left + 25, area.MidY), colour);
        if (!isBare)
        {
            var from = hasIcon ? 42 : 8;
            Text(canvas, font, entry.Label, colour, area.Left + from, area.Width - from - 8, area.MidY + 5.5f, false);
        }
        if (entry.IsBusy)
            ProgressLine(canvas, entry.Progress, SKRect.Create(area.Left + 8, area.Bottom - 8, area.Width - 16, 3), false);
    }
}
