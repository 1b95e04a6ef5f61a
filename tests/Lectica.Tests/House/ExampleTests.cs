using System.Diagnostics;
using System.Text.RegularExpressions;

namespace Lectica.Tests.House;

/// <summary>The examples run, and the README shows them as they are.</summary>
public sealed partial class ExampleTests
{
    private static string Run(string example)
    {
        // test.sh has built them; looking at each again whether it is up to date takes longer than running it.
        var start = new ProcessStartInfo("dotnet", ["run", "--no-build", Repository.At("examples", example)])
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        using var process = Process.Start(start)!;
        var output = process.StandardOutput.ReadToEndAsync();
        var error = process.StandardError.ReadToEnd();
        process.WaitForExit();
        Assert.True(process.ExitCode == 0, output.Result + error);
        return output.Result.ReplaceLineEndings("\n").TrimEnd();
    }

    [Theory]
    [InlineData("five-lines.cs", "Tessil Ring is item 1")]
    [InlineData("ten-lines.cs", "tapped Tessil Ring, 11.0\nselected R2\nopen R2\n3 rows to draw; the second says 'magnitude 11.0'")]
    public void An_example_prints_what_it_is_to_print(string example, string expected) => Assert.Equal(expected, Run(example));

    private static readonly string[] Plan = ["Tessil Ring", "Orvane Cluster", "Belyra Pair", "Harbour Comet"];

    /// <summary>The chapters, each with what it must print, worked out here from plain lists and sets.</summary>
    public static TheoryData<string, string> Chapters
    {
        get
        {
            static string Joined(IEnumerable<string> names) => string.Join(", ", names);
            (string Id, string Field, double Magnitude)[] requests =
                [("R1", "Tessil Ring", 9.2), ("R2", "Tessil Ring", 11.0), ("R3", "Orvane Cluster", 7.5)];
            (string Id, double Magnitude)[] tapped = [("R1", 7.5), ("R2", 9.2), ("R3", 11.0)];
            var faint = tapped.Where(r => r.Magnitude > 8).ToList();
            string Tap(string id) =>
                $"{id}, {tapped.First(r => r.Id == id).Magnitude:0.0}, row {faint.FindIndex(r => r.Id == id)}, index " +
                    $"{Array.FindIndex(tapped, r => r.Id == id)}";
            var even = Enumerable.Range(0, 1_000_000).Where(n => n % 2 == 0).ToList();
            var range = even.Where(n => n is >= 500_000 and <= 600_000).ToList();
            string Section(string title, string[] names, HashSet<string> selected, bool collapsed)
            {
                var box = names.All(selected.Contains) ? "On" : names.Any(selected.Contains) ? "Mixed" : "Off";
                return string.Join(" · ", [$"{title} {names.Length} {box}", .. collapsed ? [] : names]);
            }
            string Sections(HashSet<string> observed, HashSet<string> selected, bool collapsed) =>
                $"{Section("Waiting", [.. Plan.Where(n => !observed.Contains(n))], selected, collapsed)} · " +
                    $"{Section("Observed", [.. Plan.Where(observed.Contains)], selected, false)}";
            HashSet<string> one = ["Orvane Cluster"], two = ["Orvane Cluster", "Belyra Pair"];
            string[] yesterday = ["R1", "R3"], tomorrow = ["S1", "R3", "R4"];
            var moved = Plan.ToList();
            moved.Remove("Belyra Pair");
            moved.Insert(0, "Belyra Pair");
            return new()
            {
                { "01-rows.cs",
                    string.Join('\n',
                        requests.Select((r, i) => $"{i * 52} px: {r.Field}, magnitude {r.Magnitude:0.0}").Append("No items")) },
                { "02-tap.cs", $"{Tap("R3")}\n{Tap("R2")}" },
                { "03-feedback.cs",
                    "Orvane Cluster pressed\nOrvane Cluster released\nsaid: Orvane Cluster opens in the viewer\non the " +
                        "row: Opening\n700 ms later: nothing" },
                { "04-selection.cs",
                    $"+1 -0 = 1, by tap selects\n+{Plan.Length - 1} -0 = {Plan.Length}, by Shift+tap " +
                        $"extends\n+0 -1 = {Plan.Length - 1}, by Mod+tap toggles\n{Joined(Plan.Where(n => n != "Belyra Pair"))}" },
                { "05-marks.cs",
                    $"observed: R2\nstarred: " +
                        $"R3\nobserved: {Joined(requests.Select(r => r.Id).Where(id => id != "R2"))}\nobserved: " +
                            $"{Joined(requests.Select(r => r.Id))}; starred: 1\nobserved: " +
                                $"{Joined(requests.Select(r => r.Id).Where(id => id != "R2"))}\ntaken back: R2" },
                { "06-stored.cs",
                    $"selected {Joined(tomorrow.Intersect(yesterday))}; gone {Joined(yesterday.Except(tomorrow))}\nstarred S1; collapsed " +
                        $"standards" },
                { "07-menu.cs",
                    $"  Details\n  Move to top\n- Withdraw\nWithdraw 2?\n{Joined(moved.Except(["Tessil Ring", "Orvane Cluster"]))}" },
                { "08-swipe.cs",
                    $"starred Orvane Cluster\nopen: False\nOrvane Cluster " +
                        $"withdrawn: {Joined(Plan[..3].Where(n => n != "Orvane Cluster"))}\ntaken back: {Joined(Plan[..3])}" },
                { "09-reorder.cs", Reordered() },
                { "10-sections.cs",
                    $"first: {Sections(one, [], false)}\nit lingers: {Sections(one, [], false)}\nthen " +
                        $"moves: {Sections(two, [], false)}\none selected, one collapsed: {Sections(two, two, true)}" },
                { "11-keyboard.cs",
                    $"ArrowDown: {Plan[1]}\nShift+ArrowDown: {Joined(Plan[1..3])}\nwithdraw {Joined(Plan[1..3])}\nDelete: " +
                        $"{Joined(Plan[1..3])}\nCtrl+A: {Joined(Plan)}\nEscape: \nEscape: not handled\ntyped: " +
                            $"{Plan.First(n => n.StartsWith("Ha", StringComparison.Ordinal))}" },
                { "12-many.cs",
                    $"{even.Count - 1} of {even.Count} rows, the box is Mixed\na range of {range.Count}; the version before still " +
                        $"holds {even.Count - 1}\nthe middle one of them: {range[range.Count / 2]}\nin 250 px: Star, Defer; in the " +
                        $"overflow menu: Withdraw" },
            };
        }
    }

    /// <summary>The same moves of a plain list, with what is said of each.</summary>
    private static string Reordered()
    {
        List<string> plan = ["Tessil Ring", "Orvane Cluster", "Belyra Pair", "Harunda Comet", "Zinyra Comet"];
        var lines = new List<string>();
        void Move(string name, int to, bool said = true)
        {
            plan.Remove(name);
            plan.Insert(to, name);
            lines.Add($"{name} moved; stored: 1 of 5");
            if (said) lines.Add($"said: Dropped at place {to + 1} of 5");
        }
        void All() => lines.Add(string.Join(", ", plan));
        Move("Zinyra Comet", 1);
        All();
        lines.Add("said: Belyra Pair taken up, place 4 of 5. Arrow keys choose the place, Enter drops, Escape puts back");
        lines.Add("said: Moved to place 5 of 5");
        Move("Belyra Pair", 4);
        var before = plan.IndexOf("Harunda Comet");
        Move("Harunda Comet", 1);
        lines.Add("Harunda Comet moved; stored: 1 of 5");
        lines.Add("said: Undone: To the top");
        plan.Remove("Harunda Comet");
        plan.Insert(before, "Harunda Comet");
        All();
        lines.Add($"read back by key: {string.Join(", ", plan)}");
        return string.Join('\n', lines);
    }

    [Theory]
    [MemberData(nameof(Chapters))]
    public void A_chapter_prints_what_plain_lists_say_it_must(string example, string expected)
    {
        Assert.True(File.ReadLines(Repository.At("examples", example)).Count() <= 60);
        Assert.Equal(expected, Run(example));
    }

    public static TheoryData<string> GuidePages =>
        [.. Directory.GetFiles(Repository.At("docs", "guide"), "*.md").Select(f => Path.GetFileNameWithoutExtension(f)!)
        .Where(n => n != "README")];

    [Theory]
    [MemberData(nameof(GuidePages))]
    public void A_guide_page_shows_its_example_and_what_it_prints(string page)
    {
        var text = File.ReadAllText(Repository.At("docs", "guide", page + ".md"));
        var lines = File.ReadAllLines(Repository.At("examples", page + ".cs")).SkipWhile(l => l.StartsWith("#:", StringComparison.Ordinal));
        Assert.Contains($"```csharp\n{string.Join('\n', lines)}\n```", text);
        Assert.Contains($"```text\n{Run(page + ".cs")}\n```", text);
    }

    [Fact]
    public void The_guide_prints_the_rules_by_name()
    {
        var page = File.ReadAllText(Repository.At("docs", "guide", "rules.md"));
        foreach (var table in (string[][])[["--gestures", "--markdown"], ["--markdown"]])
        {
            using var printed = new MemoryStream();
            Assert.Equal(0, Cli.Tool.Run(["keys", Repository.At("examples", "data", "night-plan.list.json"), .. table], printed));
            var lines = System.Text.Encoding.UTF8.GetString(printed.ToArray());
            Assert.True(lines.Split('\n').Length > 20);
            Assert.Contains(lines, page);
        }
    }

    [Fact]
    public void The_page_on_testing_shows_tests_that_run()
    {
        var lines = File.ReadAllLines(Repository.At("examples", "testing.cs")).SkipWhile(l => l.StartsWith("#:", StringComparison.Ordinal));
        Assert.Contains($"```csharp\n{string.Join('\n', lines)}\n```", File.ReadAllText(Repository.At("docs", "testing.md")));
        Assert.Matches("Total: 4, Errors: 0, Failed: 0", Run("testing.cs"));
    }

    [Fact]
    public void The_page_on_Blazor_shows_a_page_that_is_worked_elsewhere()
    {
        var shown = File.ReadAllText(Repository.At("examples", "NightPlan.Server", "First.razor")).TrimEnd();
        Assert.Contains($"```razor\n{shown}\n```", File.ReadAllText(Repository.At("docs", "blazor.md")));
    }

    [Fact]
    public void The_readme_shows_the_examples_as_they_are()
    {
        var readme = File.ReadAllText(Repository.At("README.md"));
        foreach (var example in (string[])["five-lines.cs", "ten-lines.cs"])
        {
            var lines = File.ReadAllLines(Repository.At("examples", example)).SkipWhile(l => l.StartsWith("#:", StringComparison.Ordinal));
            Assert.Contains(string.Join('\n', lines), readme);
        }
    }

    [Fact]
    public void Every_link_of_the_pages_leads_somewhere()
    {
        foreach (var page in Directory.GetFiles(Repository.Root, "*.md")
            .Concat(Directory.GetFiles(Repository.At("docs"), "*.md", SearchOption.AllDirectories)))
            foreach (Match link in Link().Matches(File.ReadAllText(page)))
            {
                var target = link.Groups[1].Value.Split('#')[0];
                if (target.Length == 0 || target.Contains("://", StringComparison.Ordinal)) continue;
                Assert.True(Path.Exists(Path.Combine(Path.GetDirectoryName(page)!, target)), $"{page}: {target}");
            }
    }

    [Fact]
    public void The_tests_that_the_page_on_hosts_names_are_there()
    {
        var named = TestName().Matches(File.ReadAllText(Repository.At("docs", "hosts.md"))).Select(m => m.Groups[1].Value).ToList();
        string[] tests = [.. typeof(ExampleTests).Assembly.GetTypes().SelectMany(t => t.GetMethods().Select(m => m.Name).Append(t.Name))];
        Assert.True(named.Count >= 10);
        Assert.All(named, name => Assert.Contains(tests, t => t.StartsWith(name, StringComparison.Ordinal)));
    }

    [GeneratedRegex("`([A-Z][a-z]+(?:_[a-z]+)+|[A-Za-z]+Tests)…?`")]
    private static partial Regex TestName();

    [GeneratedRegex(@"\]\(([^)\s]+)\)")]
    private static partial Regex Link();
}
