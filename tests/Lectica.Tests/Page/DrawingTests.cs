using Lectica.Acts;
using Lectica.Blazor;
using Lectica.Input;
using Lectica.Layout;
using Microsoft.AspNetCore.Components;

namespace Lectica.Tests.Page;

/// <summary>
/// Nothing is drawn but what has become other: in the runtime's interpreter a page takes milliseconds for what looks the same.
/// </summary>
public class DrawingTests
{
    [Fact]
    public void Only_what_is_other_is_drawn()
    {
        var list = InteractiveList.Of(
            Enumerable.Range(0, 1000).ToList(), i => i,
            new()
            {
                Mode = SelectionMode.Multiple,
                MayMove = true,
                Viewport = new(400, 520),
                Title = "Tonight",
                Parts = new() { Check = true, Handle = true },
            });
        var script = new ComponentPage.Script();
        using var page = new ComponentPage(script);
        page.Show(typeof(ListView<int, int>), list);
        var time = 0.0;

        // What is drawn when the script hands this over, with how often each.
        string Drawn(SampleKind kind, double x, double y)
        {
            page.Drawn.Clear();
            script.Call("TakeSamples", ComponentPage.Sample(kind, time += 100, x, y), 0, null!, 0.0, 0.0);
            return string.Join(" ", page.Drawn.CountBy(name => name).OrderBy(c => c.Key).Select(c => $"{c.Key} {c.Value}"));
        }
        string Tap(int row)
        {
            var box = list.Frame.Rows[row].Parts.First(p => p.Part.Kind == PartKind.Check);
            var (x, y) = (box.Left + 10, list.Frame.Rows[row].Top + 26);
            return Drawn(SampleKind.Down, x, y) + " | " + Drawn(SampleKind.Up, x, y);
        }

        // The first brings the header's box along.
        Assert.Contains("ListView", Tap(1), StringComparison.Ordinal);
        // Then the pressed row is drawn, and the same let go and ticked.
        Assert.Equal("RowElement 1 RowInsideElement 1 | RowElement 1 RowInsideElement 1", Tap(2));

        var handle = list.Frame.Rows[5].Parts.First(p => p.Part.Kind == PartKind.Handle).Left + 20;
        var top = list.Frame.Rows[5].Top + 26;
        Drawn(SampleKind.Down, handle, top);
        Assert.Contains("ListView", Drawn(SampleKind.Move, handle, top + 16), StringComparison.Ordinal);
        for (var i = 1; i < 8; i++) Assert.Equal("", Drawn(SampleKind.Move, handle, top + 16 + i));
        // In another gap, what is carried and the row that gives way, at once.
        var batches = page.Batches;
        for (var i = 1; i < 4; i++) Assert.Equal("RowElement 2 Together 1", Drawn(SampleKind.Move, handle, top + 8 + (52 * i)));
        Assert.Equal(3, page.Batches - batches);
        Assert.Contains("ListView", Drawn(SampleKind.Up, handle, top + 164), StringComparison.Ordinal);
        // A new row comes from below.
        page.Drawn.Clear();
        script.Call("TakeNote", 0, 20.0, 0.0);
        Assert.Equal("RowElement RowInsideElement RowsElement", string.Join(" ", page.Drawn.Order()));
        Assert.Empty(page.Told);
    }

    [Fact]
    public void Rows_of_a_template_are_no_options_which_may_hold_no_control()
    {
        RenderFragment<RowContext<string>> drawn = row => builder => builder.AddContent(0, row.Item);
        foreach (var (template, role) in new[] { (null, "listbox"), (drawn, "grid") })
        {
            using var page = new ComponentPage(new ComponentPage.Script());
            var view = page.Make<ListView<string, string>>();
            page.Show(view, new() { ["List"] = InteractiveList.Of(["Tessil Ring"], (string s) => s), ["Row"] = template });
            Assert.Contains(role, page.RolesIn(view));
        }
    }

    [Fact]
    public void Escape_is_kept_from_the_browser_only_where_a_list_or_a_choice_field_has_a_use_for_it()
    {
        var script = new ComponentPage.Script();
        using var page = new ComponentPage(script);
        var list = InteractiveList.Of(["a", "b"], s => s, new() { Mode = SelectionMode.Multiple });
        bool Expects() => script.Keys.Contains("0:Escape");
        page.Show(typeof(ListView<string, string>), list);
        Assert.False(Expects());
        list.Select("b");
        Assert.True(Expects());
        list.Clear();
        Assert.False(Expects());

        var field = new ChoiceField<string, string>(["a", "b"], s => s) { Label = "Choose", Value = "a" };
        using var other = new ComponentPage(script);
        other.Show(other.Make<ChoiceView<string, string>>(), new() { ["Field"] = field });
        foreach (var (key, isOpen) in new[] { ("ArrowDown", true), ("Escape", false), ("Enter", true), ("Escape", false) })
        {
            Assert.Equal(!isOpen, field.IsOpen);
            Assert.True(field.IsOpen == Expects(), $"before {key}: {field.IsOpen}, {string.Join(" ", script.Keys)}");
            script.Call("TakeKey", key, 0, 100.0);
        }
        Assert.False(Expects());
    }
}
