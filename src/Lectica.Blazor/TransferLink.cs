using System.Globalization;
using Microsoft.JSInterop;

namespace Lectica.Blazor;

/// <summary>What the script tells of clipboard and drags.</summary>
internal enum TransferNote
{
    Copy,
    Cut,
    Paste,
    Hover,
    Drop,
    Leave,
    DragOut,
}

/// <summary>
/// Carries things between a list and the browser's clipboard and drags. They go as texts with a zero between each two: place and time, then
/// the number of texts and each with its media type before it, then each file's number, name, type and size.
/// </summary>
internal sealed class TransferLink(IJSRuntime js)
{
    private const string Module = "./_content/Lectica.Blazor/lectica-list.js";
    private static readonly string[] Nothing = ["0", "0", "0", "0"];

    // A file that is larger is not read: it would have to be held whole.
    private const long MostBytes = 256L << 20;

    public static string Pack(TransferData data) =>
        string.Join('\0', data.Types.SelectMany(t => (string[])[t, data[t]!.Replace("\0", "", StringComparison.Ordinal)]));

    /// <summary>Takes a note; gives the answer that the script waits for.</summary>
    public string Take(IHostedList list, TransferNote note, string packed)
    {
        var parts = packed.Length == 0 ? Nothing : packed.Split('\0');
        double x = Number(parts[0]), y = Number(parts[1]), time = Number(parts[2]);
        switch (note)
        {
            case TransferNote.Copy:
                list.Copy();
                return "";
            case TransferNote.Cut:
                list.Cut();
                return "";
            case TransferNote.Paste:
                return Answer(list.Paste(DataOf(parts)));
            case TransferNote.Hover:
                var data = DataOf(parts);
                return Answer(list.HoverFromOutside(data.Types, !data.Files.IsEmpty, x, y, time));
            case TransferNote.Drop:
                return Answer(list.DropFromOutside(DataOf(parts), x, y, time));
            case TransferNote.Leave:
                list.LeaveFromOutside();
                return "";
            default:
                return list.DataAt(x, y) is { } given ? Pack(given) : "";
        }
    }

    private static string Answer(Response response) => response.IsHandled ? "1" : "";

    private static double Number(string text) => double.Parse(text, CultureInfo.InvariantCulture);

    private TransferData DataOf(string[] parts)
    {
        var data = TransferData.Empty;
        var at = 4;
        for (var left = int.Parse(parts[3], CultureInfo.InvariantCulture); left > 0; left--, at += 2)
            // Browsers name what is not a media type too, such as "Text".
            if (parts[at].IndexOf('/', StringComparison.Ordinal) > 0) data = data.With(parts[at], parts[at + 1]);
        var files = new List<TransferFile>();
        for (; at + 3 < parts.Length; at += 4)
        {
            var number = int.Parse(parts[at], CultureInfo.InvariantCulture);
            files.Add(new(
                parts[at + 1], parts[at + 2], long.Parse(parts[at + 3], CultureInfo.InvariantCulture), cancel => Open(number, cancel)));
        }
        return files.Count == 0 ? data : data.With(files);
    }

    private async ValueTask<Stream> Open(int number, CancellationToken cancel)
    {
        await using var module = await js.InvokeAsync<IJSObjectReference>("import", cancel, Module);
        var file = await module.InvokeAsync<IJSStreamReference>("openFile", cancel, number);
        return await file.OpenReadStreamAsync(MostBytes, cancel);
    }
}
