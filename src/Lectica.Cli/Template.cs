using System.Text;
using Lectica.Testing;

namespace Lectica.Cli;

/// <summary>A text with fields in braces, such as <c>{requester} · mag {magnitude}</c>. Doubled braces stand for themselves.</summary>
internal sealed class Template
{
    private readonly List<(string? Text, int Field)> _pieces = [];

    public static Template Field(int field)
    {
        var template = new Template();
        template._pieces.Add((null, field));
        return template;
    }

    public static Template Parse(string text, Func<string, int> fieldAt, Func<string, InputException> error)
    {
        var template = new Template();
        var plain = new StringBuilder();
        for (var i = 0; i < text.Length; i++)
        {
            if (text[i] is '{' or '}' && i + 1 < text.Length && text[i + 1] == text[i]) plain.Append(text[i++]);
            else if (text[i] == '{')
            {
                var end = text.IndexOf('}', i);
                if (end < 0) throw error($"the brace at {i + 1} is not closed; write {{field}}, or {{{{ for a brace itself.");
                if (plain.Length > 0) template._pieces.Add((plain.ToString(), 0));
                plain.Clear();
                template._pieces.Add((null, fieldAt(text[(i + 1)..end])));
                i = end;
            }
            else plain.Append(text[i]);
        }
        if (plain.Length > 0) template._pieces.Add((plain.ToString(), 0));
        return template;
    }

    public string Of(Row row) => _pieces.Count == 1 && _pieces[0].Text is null ? row.Values[_pieces[0].Field]
        : string.Concat(_pieces.Select(p => p.Text ?? row.Values[p.Field]));
}
