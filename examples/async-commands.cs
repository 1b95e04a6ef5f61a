#:project ../src/Lectica/Lectica.csproj
using Lectica;

var list = InteractiveList.Of(["Tessil Ring", "Orvane Cluster", "Belyra Pair"], name => name, new() { Phrases = Phrases.English });
var clouds = true;
list.Commands =
[
    new("expose", "Expose")
    {
        Run = async (target, cancel) =>
        {
            for (var part = 1; part <= 4; part++)
            {
                await Task.Delay(20, cancel);                   // the app's slow work; cancelling ends it here
                target.Progress.Report(part / 4.0);             // from any thread
                if (part == 2 && clouds) throw new InvalidOperationException("clouds");
            }
            return new(target.Count);
        },
    },
];
list.CommandRan += (_, ran) => Console.WriteLine($"done: {ran.Result.Count}");
list.CommandCancelled += (_, cancelled) => Console.WriteLine($"cancelled: {cancelled.Command.Label}");
list.CommandFailed += (_, failed) => Console.WriteLine($"failed: {failed.Error.Message}");

list.RunCommand("expose", "Tessil Ring");
Console.WriteLine($"busy: {list.Frame.Rows[0].Busy!.Label}");    // its row is busy, and says so
Quiet();
Console.WriteLine($"{list.Frame.Brief!.Text}: {list.Frame.Brief.Offer}?");

clouds = false;
list.RetryFromNotice();                                         // the button of the notice
Quiet();

list.RunCommand("expose", "Belyra Pair");
Console.WriteLine(list.RunCommand("expose", "Belyra Pair").Refusal!.Kind);
list.CancelCommand("expose", "Belyra Pair");                    // so does the command's own entry in the row's menu meanwhile
Quiet();

// A list with a context hears of it by itself; this one, on a bare thread, looks with each call.
void Quiet()
{
    while (list.RunningCommands.Any())
    {
        Thread.Sleep(5);
        list.Advance(Environment.TickCount64);
    }
}
