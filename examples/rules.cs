#:project ../src/Lectica.Testing/Lectica.Testing.csproj
using Lectica;
using Lectica.Acts;
using Lectica.Gestures;
using Lectica.Input;
using Lectica.Testing;

// A rule says: this gesture, by these pointers, on these places, under this condition, means these acts. The first that fits is taken.
var gestures = GestureTable.Default
    .Replacing("second touch tap does nothing more",
        new("double tap stars", GestureKind.DoubleTap, Pointers.Touch, HitAreas.Body, [ActKind.ToggleMark]) { Text = "starred" })
    .With(new("pen holds to withdraw", GestureKind.LongPress, Pointers.Pen, HitAreas.Body, [ActKind.RunCommand]) { Text = "withdraw" })
    .Without("tap on empty space clears");
var keys = KeyTable.Moving
    .With(new(KeyChord.Parse("S"), [ActKind.ToggleMark], Direction.Here) { Text = "starred" })
    .Without(KeyChord.Parse("Mod+A"));

var options = new ListOptions { Mode = SelectionMode.Multiple, Gestures = gestures, Keys = keys };
var list = InteractiveList.Of(["Tessil Ring", "Orvane Cluster"], name => name, options);
list.Marks = [new("starred")];
list.Commands = [new("withdraw", "Withdraw") { Do = target => Console.WriteLine($"withdrawn: {target.Items[0]}") }];
list.MarkChanged += (_, e) => Console.WriteLine($"{e.Name} by '{e.Cause}': {string.Join(", ", e.AddedItems)}");
var player = ListPlayer.On(list);

player.Touch.DoubleTap("row:Tessil Ring");
player.Pen.LongPress("row:Orvane Cluster");
player.Press("End");
player.Press("S");
Console.WriteLine($"Mod+A: {(player.Press("Mod+A").IsHandled ? "taken" : "left to the app")}");
// A rule that cannot work is no rule: the message says why.
try
{
    _ = gestures.With(new("tap marks", GestureKind.Tap, Pointers.All, HitAreas.Body, [ActKind.ToggleMark]));
}
catch (ArgumentException e)
{
    Console.WriteLine(e.Message);
}
