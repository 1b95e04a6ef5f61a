#:project ../src/Lectica.Testing/Lectica.Testing.csproj
using System.Collections.ObjectModel;
using Lectica;
using Lectica.Layout;
using Lectica.Testing;

var options = new ListOptions { MayMove = true, Parts = new() { Handle = true }, Viewport = new Viewport(300, 400) };
using var tonight = InteractiveList.Of(new ObservableCollection<string> { "Tessil Ring", "Orvane Cluster", "Belyra Pair" }, name => name,
    options with { Title = "Tonight" });
using var tomorrow =
    InteractiveList.Of(new ObservableCollection<string> { "Harunda Comet" }, name => name, options with { Title = "Tomorrow" });
var group = new ListGroup<string, string>();
group.Add(tonight, () => new(0, 0));           // where each list is on the page, asked while something is dragged
group.Add(tomorrow, () => new(320, 0));
group.Decide = transfer => transfer.Items.Contains("Tessil Ring") ? TransferKind.Refuse : TransferKind.Take;

void Show() =>
    Console.WriteLine(
    $"{string.Join(", ", tonight.Frame.Rows.Select(r => r.Content.Label))} | " +
        $"{string.Join(", ", tomorrow.Frame.Rows.Select(r => r.Content.Label))}");
var player = ListPlayer.On(tonight);
player.Touch.GoTo("handle:Belyra Pair");
player.Touch.Down();
player.Touch.GlideTo(450, 10, 300);         // the pointer stays with the list that it came down on
player.Touch.Up();
Show();
Console.WriteLine(group.Send(tonight, tomorrow, ["Tessil Ring"]).Refusal!.Reason);
tomorrow.Undo();                            // one step, in whichever list
Show();
