#:project ../src/Lectica/Lectica.csproj
using Lectica;
using Lectica.Acts;

// A language of your own: what is not given stays English. A phrase with a number is a function of it, so each language has its plurals.
var latin = Phrases.English with
{
    Empty = "Nihil adest",
    Selected = n => n == 1 ? "1 selectum" : $"{n} selecta",
    SelectionChanged = (added, removed, total) => total == 0 ? "Nihil selectum" : $"{total} selecta",
    Refused = refusal => refusal.Kind == RefusalKind.Limit ? $"Non plus quam {refusal.Most}" : "Non licet",
};
foreach (var phrases in new[] { Phrases.English, Phrases.German, latin })
{
    var list = InteractiveList.Of<string>([], new() { Mode = SelectionMode.Multiple, Limit = 3, IsRightToLeft = false, Phrases = phrases });
    list.Announced += (_, said) => Console.WriteLine($"  said: {said.Text}");
    list.Refused += (_, refused) => Console.WriteLine($"  refused: {refused.Text}");
    Console.WriteLine(list.Frame.Rows[0].Content.Label);
    list.Show(["Tessil Ring", "Orvane Cluster", "Belyra Pair"]);
    list.SelectAll();
    list.Show(["Tessil Ring", "Orvane Cluster", "Belyra Pair", "Harunda Comet"]);
    list.SelectAll();
}

// From right to left: what lies at the start lies at the right, and the arrow keys are swapped.
var turned = InteractiveList.Of(["Tessil Ring"], new() { IsRightToLeft = true, Parts = new() { Check = true } });
Console.WriteLine($"the box lies {turned.Frame.Rows[0].Parts[0].Left} px from the left");
