using CsCheck;
using Lectica.Input;
using Lectica.Items;
using Lectica.Skia;
using Lectica.Tests.Lists;
using SkiaSharp;

namespace Lectica.Tests.Tools;

/// <summary>What is drawn is what the frame says.</summary>
public sealed class DrawingTests
{
    private static SKBitmap Draw(Frames.Frame frame, Theme? theme = null)
    {
        using var png = new FramePainter(theme ?? Theme.Light).ToPng(frame, 1);
        return SKBitmap.Decode(png);
    }

    /// <summary>How many pixels of a row differ in lightness by more than a tint does.</summary>
    private static int Differing(SKBitmap a, SKBitmap b, int top, int height)
    {
        var count = 0;
        for (var y = top; y < top + height; y++)
            for (var x = 0; x < a.Width; x++)
                if (Math.Abs(Lightness(a.GetPixel(x, y)) - Lightness(b.GetPixel(x, y))) > 60) count++;
        return count;
    }

    private static double Lightness(SKColor c) => (0.2126 * c.Red) + (0.7152 * c.Green) + (0.0722 * c.Blue);

    [Fact]
    public void Pressed_selected_cursor_and_disabled_rows_differ_in_form_in_both_themes()
    {
        foreach (var theme in (Theme[])[Theme.Light, Theme.Dark])
        {
            var list = InteractiveList.Of(["one", "two", "three"], s => s);
            using var rest = Draw(list.Frame, theme);
            list.Take(PointerSample.Down(PointerType.Touch, 50, 60, 0));
            using var pressed = Draw(list.Frame, theme);
            list.Take(PointerSample.Up(PointerType.Touch, 50, 60, 80));
            using var selected = Draw(list.Frame, theme);
            list.Clear();
            list.Focus();
            using var quiet = Draw(list.Frame, theme);
            list.Blur();
            list.Focus();
            using var cursor = Draw(list.Frame, theme);
            list.Blur();
            list.EnabledWhen = s => s != "two";
            using var disabled = Draw(list.Frame, theme);
            SKBitmap[] looks = [rest, pressed, selected, quiet, cursor, disabled];
            for (var i = 0; i < looks.Length; i++)
                for (var j = 0; j < i; j++)
                    Assert.True(Differing(looks[i], looks[j], 52, 52) > 20,
                        $"looks {i} and {j} of {(theme == Theme.Light ? "light" : "dark")}");
            // And nothing changed in the rows that nothing happened to.
            Assert.Equal(0, Differing(rest, selected, 104, 52));
        }
    }

    [Fact]
    public void Dividers_reach_over_the_full_width_and_lie_where_the_rows_end() => Any.List.Sample(any =>
    {
        // Whole pixels, so that a divider is one.
        var list = Any.Open(any.Things, any.Options with
        {
            RowHeight = Math.Round(any.Options.RowHeight),
            Viewport = new(Math.Round(any.Options.Viewport.Width), Math.Round(any.Options.Viewport.Height)),
        });
        using var picture = Draw(list.Frame);
        foreach (var row in list.Frame.Rows)
        {
            var y = (int)(row.Top + row.Height - 1);
            if (row.Kind != RowKind.Item || row.IsSelected || y >= picture.Height) continue;
            // The scroll bar may lie over its very end.
            for (var x = 12; x < picture.Width - 12; x++) Assert.Equal(Theme.Light.Divider, picture.GetPixel(x, y));
        }
    }, iter: 150);

    [Fact]
    public void The_same_frame_gives_the_same_picture_and_another_frame_another()
    {
        var list = InteractiveList.Of(Enumerable.Range(0, 100).Select(i => $"row {i}").ToArray(), new() { Title = "Rows" });
        using var one = new FramePainter(Theme.Light).ToPng(list.Frame);
        using var same = new FramePainter(Theme.Light).ToPng(list.Frame);
        list.ScrollTo(1);
        using var other = new FramePainter(Theme.Light).ToPng(list.Frame);
        Assert.Equal(one.ToArray(), same.ToArray());
        Assert.NotEqual(one.ToArray(), other.ToArray());
    }

    [Fact]
    public void Any_frame_can_be_drawn_every_notice_too()
    {
        Any.List.Sample(any =>
        {
            using var picture = Draw(Any.Open(any.Things, any.Options, any.Scroll).Frame);
            Assert.Equal((int)Math.Ceiling(any.Options.Viewport.Width), picture.Width);
        }, iter: 40);
        var list = InteractiveList.Awaiting<string, string>(s => s);
        var pictures = new List<byte[]>();
        void Add()
        {
            using var png = new FramePainter(Theme.Light).ToPng(list.Frame, 1);
            pictures.Add(png.ToArray());
        }
        Add();
        list.ShowLoading("Why");
        Add();
        list.ShowFailed("Why");
        Add();
        Assert.Equal(3, pictures.DistinctBy(Convert.ToHexString).Count());
        Assert.Throws<ArgumentOutOfRangeException>(() => new FramePainter(Theme.Light).ToPng(list.Frame, 0));
    }
}
