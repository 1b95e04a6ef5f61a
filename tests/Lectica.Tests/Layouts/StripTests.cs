using System.Collections.ObjectModel;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Frames;
using Lectica.Input;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Testing;
using Lectica.Tests.Gestures;
using Lectica.Tracing;

namespace Lectica.Tests.Layouts;

/// <summary>Strips: what the same hand does to rows, turned, it does to a strip; and where each item is on the screen.</summary>
public sealed class StripTests
{
    // Items as wide as rows are high, seen through a window that is turned.
    private const double Item = 60, Heading = 80;

    private static InteractiveList<Plate, int> Open(Random random, bool isStrip, bool rightToLeft, double along, double across)
    {
        var count = random.Next(30);
        var hasSections = random.Next(2) == 0;
        var options = new ListOptions
        {
            Mode = SelectionMode.Multiple,
            ModKey = ModKey.Ctrl,
            Phrases = Phrases.English,
            MayMove = true,
            NoticesMoves = true,
            IsRightToLeft = isStrip && rightToLeft,
            Layout = isStrip ? new Strip(Item) { HeadingWidth = Heading } : ListLayout.Rows,
            RowHeight = Item,
            HeadingHeight = Heading,
            NoticeHeight = along,
            Viewport = isStrip ? new(along, across) : new(across, along),
        };
        var list = InteractiveList.Of(new ObservableCollection<Plate>(
            Enumerable.Range(0, count).Select(i => new Plate(i, $"{i * 3 / Math.Max(1, count)}"))), p => p.Id, options);
        list.EnabledWhen = p => p.Id % 7 != 5;
        if (random.Next(3) == 0) list.Filter = p => p.Id % 3 != 1;
        if (hasSections) list.Sections = new(p => p.Region) { Order = ["0", "1", "2"], Assign = (p, night) => p.Region = night };
        if (hasSections && random.Next(3) == 0) list.CollapseOrExpand("1");
        list.Commands =
        [
            new("pick", "Pick") { ShowIn = ShowIn.LeadingTray, SwipesThrough = true, Do = _ => { } },
            new("drop", "Drop") { ShowIn = ShowIn.TrailingTray | ShowIn.Menu, Do = _ => { } },
        ];
        return list;
    }

    [Fact]
    public void What_a_hand_does_to_rows_it_does_turned_to_a_strip()
    {
        var met = new Dictionary<string, int>();
        for (var seed = 0; seed < Effort.Of(1_200); seed++)
        {
            var random = new Random(seed);
            double along = random.Next(200, 700), across = random.Next(60, 300);
            var rightToLeft = random.Next(2) == 0;
            var made = random.Next();
            using var rows = Open(new(made), false, rightToLeft, along, across);
            using var strip = Open(new(made), true, rightToLeft, along, across);
            var acts = new List<string>[] { [], [] };
            rows.Traced += line => Note(acts[0], line as TracedAct);
            strip.Traced += line => Note(acts[1], line as TracedAct);
            var time = 1_000.0;
            for (var step = 0; step < 6; step++)
            {
                var what = random.Next(5);
                var type = random.Next(2) == 0 ? PointerType.Mouse : PointerType.Touch;
                double u = random.Next((int)along), v = random.Next((int)across), toU = u, toV = v;
                var moves = 0;
                if (what == 0)
                {
                    string[] keys = ["ArrowDown", "ArrowUp", "Shift+ArrowDown", "Home", "End", "PageDown", "Ctrl+a", "Alt+ArrowDown",
                        "Alt+Enter", "Enter", "Escape", "Shift+F10", "p"];
                    var key = keys[random.Next(keys.Length)];
                    time += 50;
                    rows.Take(Press(key, time));
                    var turned = key.Replace("ArrowDown", rightToLeft ? "ArrowLeft" : "ArrowRight", StringComparison.Ordinal)
                        .Replace("ArrowUp", rightToLeft ? "ArrowRight" : "ArrowLeft", StringComparison.Ordinal);
                    strip.Take(Press(turned, time));
                }
                else
                {
                    // A tap, a drag along or across, or held first.
                    if (what >= 2)
                        (toU, toV, moves) = random.Next(2) == 0 ? (u + random.Next(-250, 250), v + random.Next(-9, 9), 8)
                            : (u + random.Next(-9, 9), v + random.Next(-150, 150), 8);
                    void Both(SampleKind kind, double atU, double atV)
                    {
                        var sample = new PointerSample(kind, 1, type, atV, atU, time) { Buttons = kind == SampleKind.Up ? 0 : 1 };
                        rows.Take(sample);
                        strip.Take(sample with { X = rightToLeft ? along - atU : atU, Y = atV });
                    }
                    time += 400;
                    Both(SampleKind.Down, u, v);
                    if (what == 4) Advance(time += 700);
                    for (var i = 1; i <= moves; i++)
                    {
                        time += 16;
                        Both(SampleKind.Move, Math.Round(u + ((toU - u) * i / moves)), Math.Round(v + ((toV - v) * i / moves)));
                        Compare($"{seed}, {step}: a move");
                    }
                    time += 60;
                    if (random.Next(6) == 0) Both(SampleKind.Cancel, toU, toV);
                    else Both(SampleKind.Up, toU, toV);
                    // Where a host scrolls for a finger's pan.
                    if (random.Next(4) == 0)
                    {
                        var top = random.Next(2_000);
                        rows.ScrollTo(top);
                        strip.ScrollTo(top);
                    }
                    Advance(time += 500);
                }
                Compare($"{seed}, {step}: {what}");
                // A menu is placed on the screen, which is not turned.
                foreach (var list in (InteractiveList<Plate, int>[])[rows, strip])
                    if (list.IsMenuOpen) list.CloseMenu();
            }
            void Advance(double to)
            {
                rows.Advance(to);
                strip.Advance(to);
            }
            void Compare(string after)
            {
                Assert.Equal(acts[0], acts[1]);
                Assert.True(rows.StateLine().ToJson() == strip.StateLine().ToJson(),
                    $"{after}: the strip is {strip.StateLine().ToJson()}, not {rows.StateLine().ToJson()}");
                Frame plain = rows.Frame, turned = strip.Frame;
                Assert.Equal((plain.Viewport.Width, plain.Viewport.Height, plain.Viewport.ScrollTop),
                    (turned.Viewport.Height, turned.Viewport.Width, turned.Viewport.ScrollTop));
                Assert.Equal(plain.ContentHeight, turned.ContentHeight);
                Assert.Equal(plain.Rows.Length, turned.Rows.Length);
                foreach (var (row, item) in plain.Rows.Zip(turned.Rows))
                {
                    var left = rightToLeft ? along - row.Top - row.Height : row.Top;
                    Assert.Equal((left, 0.0, row.Height, across), (item.Left, item.Top, item.Width, item.Height));
                    string Looks(RowFrame r) =>
                        $"{r.Index} {r.IsSelected} {r.IsPressed} {r.IsCursor} {r.IsGrabbed} {r.Shift.From} {r.Shift.To} {r.Tray.Length}";
                    Assert.True(Looks(row) == Looks(item), $"{after}: {Looks(item)}, not {Looks(row)}");
                }
                if (plain.Marquee is { } m)
                    Assert.Equal(new(rightToLeft ? along - m.Top - m.Height : m.Top, m.Left, m.Height, m.Width), turned.Marquee!.Value);
                Assert.Equal(plain.Grab is null, turned.Grab is null);
                if (plain.Grab is { } grab)
                {
                    Assert.Equal(rightToLeft ? along - grab.Top - grab.Height : grab.Top, turned.Grab!.Left, 6);
                    Assert.Equal((grab.Height, across), (turned.Grab.Width, turned.Grab.Height));
                    if (grab.GapY is { } gap) Assert.Equal(rightToLeft ? along - gap : gap, turned.Grab.GapX!.Value, 6);
                }
                foreach (var (name,
                    holds) in new[] { ("rectangle", plain.Marquee is not null), ("grab", plain.Grab is not null),
                    ("tray", plain.Rows.Any(r => !r.Tray.IsEmpty)), ("menu", rows.IsMenuOpen), ("scrolled", plain.Viewport.ScrollTop > 0),
                        ("sections", plain.Rows.Any(r => r.Heading is not null)) })
                    if (holds) met[name] = met.GetValueOrDefault(name) + 1;
            }
        }
        Assert.All((string[])["rectangle", "grab", "tray", "menu", "scrolled", "sections"],
            w => Assert.True(met.GetValueOrDefault(w) > Effort.Of(60), $"{w}: {met.GetValueOrDefault(w)}"));
    }

    private static KeyPress Press(string chord, double time)
    {
        var parsed = KeyChord.Parse(chord);
        return new(parsed.Key.Length == 1 ? parsed.Key.ToLowerInvariant() : parsed.Key, parsed.Modifiers, time);
    }

    private static void Note(List<string> acts, TracedAct? act)
    {
        if (act?.Act is not null) acts.Add($"{act.Act} {act.Key} {act.Refused}");
    }

    [Fact]
    public void Why_an_item_was_not_swiped_is_told_in_the_directions_of_the_screen_and_the_remedy_swipes_it()
    {
        InteractiveList<string, string> Open() =>
            RecognitionTests.Open(RecognitionTests.Everything with { Layout = new Strip(52), Viewport = new(520, 400) });
        var random = new Random(8);
        int ruledOut = 0, up = 0, down = 0;
        for (var i = 0; i < Effort.Of(80); i++)
        {
            // The hands of the other tests, turned.
            var trace = HumanTraces.Make(random, 1000, new(Jitter: 4, Tremor: 4, Drift: 4, Curve: 4, Haste: 0.7 + (i % 7 * 0.15)));
            var recording =
                new Recording("hand", [.. trace.Samples.Select(s => new RecordedInput { Pointer = s with { X = s.Y, Y = s.X } })]);
            foreach (var verdict in Explainer.Explain(Open, recording).SelectMany(s => s.Verdicts)
                .Where(v => v.Gesture is "swipe" or "open-tray" or "swipe-through"))
            {
                Assert.DoesNotMatch("to the (left|right)|the row|across", verdict.Reason);
                up += verdict.Reason.EndsWith(", up", StringComparison.Ordinal) ? 1 : 0;
                down += verdict.Reason.EndsWith(", down", StringComparison.Ordinal) ? 1 : 0;
                if (verdict.Remedy is not { } remedy) continue;
                ruledOut++;
                Assert.DoesNotMatch("the row", remedy.Words);
                var player = ListPlayer.On(Open());
                player.Play(remedy.Recording);
                Assert.Contains(
                    player.Trace,
                        l => verdict.Gesture switch
                        {
                            "open-tray" => l is TracedChange { Change: "tray", Open: not null },
                            "swipe-through" => l is TracedAct { Act: "invoke-tray" },
                            _ => l is TracedGesture { Gesture: "swipe", Recognised: true },
                        });
            }
        }
        if (!Effort.IsFull) return;
        Assert.True(ruledOut > 20 && up > 3 && down > 3, $"{ruledOut} ruled out, {up} up, {down} down");
    }

    [Fact]
    public void Parts_lie_over_an_items_corners_menus_in_the_window_and_what_cannot_be_is_refused()
    {
        foreach (var rightToLeft in (bool[])[false, true])
        {
            var plates = Enumerable.Range(0, 9).Select(i => new Plate(i, "0")).ToArray();
            var options = new ListOptions
            {
                Mode = SelectionMode.Multiple,
                Layout = new Strip(120),
                Viewport = new(500, 140),
                Parts = new() { Check = true, Marks = ["picked"], Width = 40 },
                IsRightToLeft = rightToLeft,
                HasStickyHeadings = true,
            };
            using var list = InteractiveList.Of(plates, p => p.Id, options);
            list.Marks = [new("picked")];
            list.Commands = [new("pick", "Pick") { Do = _ => { } }];
            var player = ListPlayer.On(list);
            double X(double fromBeginning) => rightToLeft ? 500 - fromBeginning : fromBeginning;
            void Tap(double x, double y)
            {
                player.Mouse.MoveTo(x, y);
                player.Mouse.Down();
                player.Mouse.Up();
                player.Wait(500);
            }
            Tap(X(120 + 20), 20);
            Assert.Equal([1], list.SelectedItems.Select(p => p.Id));
            Tap(X(120 + 60), 20);
            Assert.True(list.Marked("picked").Contains(1));
            Assert.Equal([1], list.SelectedItems.Select(p => p.Id));
            // Below the parts all is the item.
            Tap(X((2 * 120) + 20), 90);
            Assert.Equal([2], list.SelectedItems.Select(p => p.Id));
            var item = list.Frame.Rows[3];
            Assert.Equal((X((3 * 120) + (rightToLeft ? 120 : 0)), 0.0, 120.0, 140.0, 40.0, true),
                (item.Left, item.Top, item.Width, item.Height, item.PartHeight, item.IsTile));
            Assert.Equal([rightToLeft ? 80 : 0, rightToLeft ? 40 : 40], item.Parts.Select(p => p.Left));
            // A menu opens where it was asked for, on the screen.
            list.ShowIn(new(-50, -50, 900, 600));
            player.Mouse.Tap("row:1", button: 2);
            Assert.InRange(list.Menu!.Bounds.Left, X(180) - list.Menu.Bounds.Width - 1, X(180) + 1);
            Assert.InRange(list.Menu.Bounds.Top, 60, 80);
            player.Press("Escape");
            list.Resize(300, 90);
            Assert.Equal(new Viewport(300, 90), list.Viewport);
            list.Reveal(8);
            Assert.Equal((9 * 120) - 300, list.Viewport.ScrollTop);
            player.Mouse.DragToGap("8", 7);
            Assert.Equal("pan-x pinch-zoom", list.Frame.Rows[0].Parts[0].TouchAction);
            Assert.Throws<InvalidOperationException>(() => list.Outline = Outline.ByParent((Plate p) => (int?)null));
            Assert.Throws<ArgumentException>(() => list.Columns = [new("night", "Night", p => p.Region)]);
        }
        // Parts that have no room side by side give way, the last ones first.
        foreach (var (width,
            parts) in new[] { (130, "check mark:a mark:b"), (90, "check mark:a"), (50, "check"), (200, "check mark:a mark:b menu handle"),
            (170, "check mark:a mark:b handle") })
        {
            using var narrow = InteractiveList.Of([new Plate(1, "0")], p => p.Id,
                new()
                {
                    Layout = new Strip(width),
                    MayMove = true,
                    Viewport = new(500, 140),
                    Parts = new() { Check = true, Marks = ["a", "b"], Handle = true, Menu = true, Width = 40 }
                });
            narrow.Marks = [new("a"), new("b")];
            Assert.Equal(parts.Split(' ').Order(), narrow.Frame.Rows[0].Parts.Select(p => p.Part.ToString()).Order());
        }
        foreach (var wrong in new Strip[] { new(10), new(double.NaN), new(60) { HeadingWidth = 3 } })
            Assert.Throws<ArgumentOutOfRangeException>(() => InteractiveList.Of<Plate, int>([], p => p.Id, new() { Layout = wrong }));
    }

    [Fact]
    public void An_empty_strip_says_why_over_its_whole_length()
    {
        using var list = InteractiveList.Of<Plate, int>([], p => p.Id,
            new() { Layout = new Strip(90), Viewport = new(600, 100), Phrases = Phrases.English });
        var row = Assert.Single(list.Frame.Rows);
        Assert.Equal((NoticeKind.Empty, 0.0, 0.0, 600.0, 100.0), (row.Notice, row.Left, row.Top, row.Width, row.Height));
    }
}
