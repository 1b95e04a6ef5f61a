using System.Diagnostics;
using System.Text.RegularExpressions;

namespace Lectica.Tests.House;

/// <summary>The examples run, and the README shows them as they are.</summary>
public sealed partial class ExampleTests
{
    private static string Run(string example)
    {
        var start = new ProcessStartInfo("dotnet", ["run", Repository.At("examples", example)]) { RedirectStandardOutput = true, RedirectStandardError = true };
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

    public static TheoryData<string> GuidePages => [.. Directory.GetFiles(Repository.At("docs", "guide"), "*.md").Select(f => Path.GetFileNameWithoutExtension(f)!).Where(n => n != "README")];

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
    public void The_page_on_testing_shows_tests_that_run()
    {
        var lines = File.ReadAllLines(Repository.At("examples", "testing.cs")).SkipWhile(l => l.StartsWith("#:", StringComparison.Ordinal));
        Assert.Contains($"```csharp\n{string.Join('\n', lines)}\n```", File.ReadAllText(Repository.At("docs", "testing.md")));
        Assert.Matches("Total: 4, Errors: 0, Failed: 0", Run("testing.cs"));
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
        foreach (var page in Directory.GetFiles(Repository.Root, "*.md").Concat(Directory.GetFiles(Repository.At("docs"), "*.md", SearchOption.AllDirectories)))
            foreach (Match link in Link().Matches(File.ReadAllText(page)))
            {
                var target = link.Groups[1].Value.Split('#')[0];
                if (target.Length == 0 || target.Contains("://", StringComparison.Ordinal)) continue;
                Assert.True(Path.Exists(Path.Combine(Path.GetDirectoryName(page)!, target)), $"{page}: {target}");
            }
    }

    [GeneratedRegex(@"\]\(([^)\s]+)\)")]
    private static partial Regex Link();
}
