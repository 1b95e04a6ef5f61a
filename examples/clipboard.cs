#:project ../src/Lectica.Testing/Lectica.Testing.csproj
using System.Collections.ObjectModel;
using Lectica;
using Lectica.Acts;
using Lectica.Testing;

var plan = new ObservableCollection<Request>(
    [new("Tessil Ring", "Odo Marsk"), new("Orvane Cluster", "Noor Halder"), new("Belyra Pair", "Ila Venn")]);
var list = InteractiveList.Of(plan, r => r.Field, new() { Mode = SelectionMode.Multiple, Phrases = Phrases.English });
list.Commands =
[
    new("withdraw", "Withdraw") { Do = list.TakeOut },
];

// Out: text for everybody, and JSON for programs that know what a request is.
list.CopyAs = requests => TransferData.OfLines(requests.Select(r => $"{r.Field}, {r.Requester}"))
    .With(TransferData.Json, System.Text.Json.JsonSerializer.Serialize(requests.Select(r => r.Field)));
list.CutCommand = "withdraw";

// In: asked with the types alone, then told with the data and the gap.
list.CanInsert = offer => offer.Has(TransferData.PlainText);
list.InsertRequested += (_, came) =>
{
    var parts = came.Data.Text!.Split('\n').Select(line => line.Split(", ")).ToList();
    if (parts.All(p => p.Length == 2)) came.Insert([.. parts.Select(p => new Request(p[0], p[1]))]);
    else came.Refuse("A request is a field, a comma, and who asks");
};

var player = ListPlayer.On(list);                               // a host with a clipboard, for tests; a page has the browser's
list.Select("Orvane Cluster");
player.Press("Mod+X");
Console.WriteLine($"cut: {player.Clipboard.Text}; left: {Names()}");
player.Press("End");
player.Press("Mod+V");
Console.WriteLine($"pasted after the cursor: {Names()}");
player.DropFromOutside(TransferData.OfText("Zinyra Comet, Edda Fusk"), y: 52);
Console.WriteLine($"dropped between the first two: {Names()}");
player.Press("Mod+Z");
Console.WriteLine($"taken back: {Names()}");
list.Paste(TransferData.OfText("clouds"));
Console.WriteLine(list.Frame.Brief!.Text);
Console.WriteLine(list.Paste(TransferData.Empty.With(TransferData.Html, "<b>clouds</b>")).IsHandled ? "taken" : "left to the host");

string Names() => string.Join(", ", plan.Select(r => r.Field));

record Request(string Field, string Requester);
