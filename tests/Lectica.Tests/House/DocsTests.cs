using System.Text;
using System.Text.RegularExpressions;

namespace Lectica.Tests.House;

/// <summary>Pages that tell what is in the code: they are made from it, or held to it.</summary>
public sealed partial class DocsTests
{
    [GeneratedRegex(@"`(?<file>[\w./]+\.cs)`(, `(?<member>\w+)`)?")]
    private static partial Regex PathTold { get; }

    [GeneratedRegex(@"(RefusalKind\.(?<kind>\w+),|throw new (?<kind>\w+Exception)\()")]
    private static partial Regex Saying { get; }

    [GeneratedRegex(@"/// <summary>(?<summary>.*?)</summary>\s+(?<kind>\w+),")]
    private static partial Regex KindTold { get; }

    private static string[] Sources(string project) =>
        [.. Directory.GetFiles(Repository.At("src", project), "*.cs", SearchOption.AllDirectories)
            .Where(f => !f.Contains("/obj/", StringComparison.Ordinal)).Order(StringComparer.Ordinal)];

    [Fact]
    public void The_architecture_names_files_and_members_that_are_there()
    {
        var told = 0;
        string[] all = [.. Directory.GetFiles(Repository.At("src"), "*.cs", SearchOption.AllDirectories),
            .. Directory.GetFiles(Repository.At("tests"), "*.cs", SearchOption.AllDirectories)];
        var page = File.ReadAllText(Repository.At("docs", "architecture.md"));
        foreach (var path in PathTold.Matches(page[page.IndexOf("# Ten questions", StringComparison.Ordinal)..]).Cast<Match>())
        {
            string name = path.Groups["file"].Value, member = path.Groups["member"].Value;
            var file = all.FirstOrDefault(f => f.EndsWith("/" + name, StringComparison.Ordinal));
            Assert.True(file is not null, $"{name} is not there");
            Assert.True(
                member.Length == 0 || Regex.IsMatch(File.ReadAllText(file), $@"\b{member}\b"), $"{name} has no {member}");
            told++;
        }
        Assert.True(told > 30, $"{told} paths");
    }

    [Fact]
    public void What_is_said_where_something_is_not_done_stands_in_the_docs()
    {
        var file = Repository.At("docs", "refusals.md");
        var made = Refusals();
        if (Environment.GetEnvironmentVariable("LECTICA_DOCS") is not null) File.WriteAllText(file, made);
        Assert.True(File.ReadAllText(file) == made, "docs/refusals.md says otherwise than the code. Run this test with LECTICA_DOCS=1.");
    }

    private static string Refusals()
    {
        var said = new SortedDictionary<string, SortedSet<string>>(StringComparer.Ordinal);
        foreach (var source in Sources("Lectica").Concat(Sources("Lectica.Queries")))
        {
            var code = File.ReadAllText(source);
            foreach (var saying in Saying.Matches(code).Cast<Match>())
                foreach (var text in SentencesAfter(code, saying.Index + saying.Length))
                {
                    if (!said.TryGetValue(saying.Groups["kind"].Value, out var texts))
                        said[saying.Groups["kind"].Value] = texts = new(StringComparer.Ordinal);
                    texts.Add(text);
                }
        }
        var page = new StringBuilder("""
            # What is refused, and what is an error

            Made from the code: a test holds the two together. `…` stands for a name, a key or a number of the list's own.

            A refusal is an answer: `Response.Refusal` has its kind for programs and the sentence for developers, `Refused` tells it too,
            and users read `Phrases.Refused`. Nothing was changed. An exception is a mistake in the program that calls, or a source that
            is not what it says.

            """.ReplaceLineEndings("\n"));
        var kinds = KindTold.Matches(File.ReadAllText(Repository.At("src", "Lectica", "Acts", "Refusal.cs"))).Cast<Match>().ToList();
        Assert.True(kinds.Count > 10 && said.Count > kinds.Count, $"{kinds.Count} kinds, {said.Count} with what they say");
        page.Append("\n## Refusals\n");
        foreach (var kind in kinds) Told(kind.Groups["kind"].Value, kind.Groups["summary"].Value);
        page.Append("\n## Exceptions\n");
        foreach (var (name, _) in said.Where(s => s.Key.EndsWith("Exception", StringComparison.Ordinal))) Told(name, null);
        return page.ToString();

        void Told(string name, string? summary)
        {
            page.Append("\n### ").Append(name).Append("\n\n").Append(summary is null ? "" : summary + "\n\n");
            foreach (var text in said.GetValueOrDefault(name) ?? []) page.Append(Wrapped(text));
        }
    }

    // A point of a list in lines of at most 140 columns.
    private static string Wrapped(string text)
    {
        var lines = new StringBuilder("-");
        var column = 1;
        foreach (var word in text.Replace("<", "\\<", StringComparison.Ordinal).Split(' ', StringSplitOptions.RemoveEmptyEntries))
        {
            if (column + 1 + word.Length > 140)
            {
                lines.Append("\n ");
                column = 1;
            }
            lines.Append(' ').Append(word);
            column += 1 + word.Length;
        }
        return lines.Append('\n').ToString();
    }

    /// <summary>The sentences in an argument list: pieces with a plus between them are one, what is filled in is a dot.</summary>
    private static IEnumerable<string> SentencesAfter(string code, int at)
    {
        var text = new StringBuilder();
        var joins = false;
        for (var depth = 1; at < code.Length && depth > 0; at++)
            switch (code[at])
            {
                case '(':
                    depth++;
                    break;
                case ')' or ';':
                    depth = code[at] == ';' ? 0 : depth - 1;
                    break;
                case '"':
                    if (!joins && text.Length > 0) foreach (var whole in Whole(text)) yield return whole;
                    at = Read(code, at, text);
                    joins = true;
                    break;
                case '+' or '$' or ' ' or '\n' or '\r':
                    break;
                default:
                    joins = false;
                    break;
            }
        foreach (var whole in Whole(text)) yield return whole;
    }

    // Words of a few letters are parts of a sentence that says one thing or another.
    private static IEnumerable<string> Whole(StringBuilder text)
    {
        var whole = text.ToString().Trim();
        text.Clear();
        if (whole.Length > 15 && whole.Contains(' ', StringComparison.Ordinal) && (char.IsUpper(whole[0]) || whole[0] is '\'' or '…'))
            yield return whole;
    }

    private static int Read(string code, int at, StringBuilder text)
    {
        var isFilled = code[at - 1] == '$';
        for (at++; code[at] != '"'; at++)
        {
            if (code[at] == '\\') at++;
            if (!isFilled || code[at] != '{' || code[at + 1] == '{')
            {
                text.Append(code[at]);
                continue;
            }
            text.Append('…');
            for (var depth = 0; ; at++)
            {
                if (code[at] == '"') at = Read(code, at, new());
                else if (code[at] == '{') depth++;
                else if (code[at] == '}' && --depth == 0) break;
            }
        }
        return at;
    }

    /// <summary>Tables and links of Markdown have lines of their own length, and the table of refusals is made from the code.</summary>
    [Fact]
    public void Lines_end_at_140_columns()
    {
        string[] folders = ["src", "examples", "docs", "tests", "bench"], kinds = [".cs", ".razor", ".css", ".js", ".md", ".sh", ".csproj"];
        var files = folders.SelectMany(f => Directory.EnumerateFiles(Repository.At(f), "*", SearchOption.AllDirectories))
            .Concat(Directory.EnumerateFiles(Repository.At(), "*.*"))
            .Where(f => kinds.Contains(Path.GetExtension(f)) && !f.Split(Path.DirectorySeparatorChar).Any(p => p is "bin" or "obj"))
            .ToList();
        Assert.True(files.Count > 400, $"{files.Count} files");
        Assert.Empty(files.SelectMany(f => File.ReadLines(f).Select((line, i) => (Path: $"{f}:{i + 1}", Line: line)))
            .Where(l => l.Line.Length > 140 && !l.Line.StartsWith('|') && !l.Line.StartsWith("![", StringComparison.Ordinal))
            .Select(l => l.Path));
    }
}
