using System.Collections.Immutable;
using System.Globalization;
using System.Text;
using System.Text.Json;
using Lectica.Input;

namespace Lectica.Testing;

/// <summary>One input of a recording: a pointer's sample, a key, or a scroll by the host.</summary>
public sealed record RecordedInput
{
    /// <summary>A pointer's sample.</summary>
    public PointerSample? Pointer { get; init; }

    /// <summary>A key that went down.</summary>
    public KeyPress? Key { get; init; }

    /// <summary>Where the host scrolled to, px from the top of the content.</summary>
    public double? ScrollTop { get; init; }

    /// <summary>When a scroll came, ms.</summary>
    public double ScrollTime { get; init; }

    /// <summary>
    /// Of a pointer going down: which gesture the person meant, in the words of traces such as <c>long-press</c>; null where nobody said.
    /// </summary>
    public string? Intent { get; init; }

    /// <summary>When it came, ms.</summary>
    public double Time => Pointer?.Time ?? Key?.Time ?? ScrollTime;

    /// <summary>The same at another time.</summary>
    public RecordedInput At(double time) => this with
    {
        Pointer = Pointer is { } p ? p with { Time = time } : null,
        Key = Key is { } k ? k with { Time = time } : null,
        ScrollTime = time,
    };
}

/// <summary>
/// What pointers and keys did, as a page or an app can log it: JSON Lines, each with the fields of a W3C PointerEvent or KeyboardEvent
/// under their own names. Fields that are not needed are passed over, and so are events that a list has no use for (pointerenter, keyup and
/// the like). A pointerdown may say in <c>intent</c> which gesture was meant. The published schema is docs/schemas/recording.schema.json.
/// </summary>
/// <param name="File">What errors call it.</param>
/// <param name="Inputs">The inputs, in the order in which they came.</param>
public sealed record Recording(string File, ImmutableArray<RecordedInput> Inputs)
{
    /// <summary>Whether both have the same inputs, under the same name.</summary>
    public bool Equals(Recording? other) => other is not null && File == other.File && Inputs.AsSpan().SequenceEqual(other.Inputs.AsSpan());

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(File, Inputs.Length);

    /// <summary>The words for intents: the gestures that a person can mean.</summary>
    public static ImmutableArray<string> Intents { get; } =
        ["tap", "double-tap", "secondary-tap", "long-press", "swipe", "drag", "hold-drag", "pull", "pan"];

    private static readonly string[] PassedOver =
    [
        "pointerover", "pointerenter", "pointerout", "pointerleave", "pointerrawupdate", "gotpointercapture", "lostpointercapture", "keyup",
            "keypress", "click", "dblclick", "contextmenu",
    ];

    /// <summary>Reads a recording.</summary>
    /// <exception cref="InputException">There is no such file, or a line is no such event.</exception>
    public static Recording Load(string path)
    {
        var bytes = InputFile.Read(path, "a recording (JSON Lines)");
        JsonText.Check(path, bytes);
        return Parse(Encoding.UTF8.GetString(bytes), path);
    }

    /// <summary>Reads a recording from its text; <paramref name="file"/> is what errors call it.</summary>
    /// <exception cref="InputException">A line is no such event.</exception>
    public static Recording Parse(string text, string file = "recording")
    {
        ArgumentNullException.ThrowIfNull(text);
        var inputs = ImmutableArray.CreateBuilder<RecordedInput>();
        var number = 0;
        foreach (var line in text.TrimStart('\uFEFF').Split('\n'))
        {
            number++;
            if (string.IsNullOrWhiteSpace(line)) continue;
            try
            {
                using var document = JsonDocument.Parse(line);
                if (new LineReader(document.RootElement, file, number).Read() is { } input) inputs.Add(input);
            }
            catch (JsonException e)
            {
                throw new InputException(
                    file, new(number, (int)(e.BytePositionInLine ?? 0) + 1), "not valid JSON; each line is one event.");
            }
            catch (InvalidOperationException)
            {
                throw new InputException(file, new(number, 1), "a text in it has half of a surrogate pair.");
            }
        }
        return new(file, inputs.DrainToImmutable());
    }

    // A time in ms beyond it has lost its fractions, and no place on a screen comes near.
    private const double Largest = 1e15;

    private sealed class LineReader(JsonElement element, string file, int line)
    {
        public RecordedInput? Read()
        {
            if (element.ValueKind != JsonValueKind.Object) throw Error("each line is one event, a JSON object.");
            var type = Text("type") ?? throw Error("the event has no 'type', such as pointerdown.");
            if (PassedOver.Contains(type)) return null;
            var time = Number("timeStamp") ?? throw Error("the event has no 'timeStamp' (ms).");
            if (type == "scroll")
                return new() { ScrollTop = Number("scrollTop") ?? throw Error("a scroll needs 'scrollTop' (px)."), ScrollTime = time };
            var modifiers = (Flag("ctrlKey") ? Modifiers.Ctrl : 0) | (Flag("shiftKey") ? Modifiers.Shift : 0) | (Flag("altKey")
                ? Modifiers.Alt : 0) | (Flag("metaKey") ? Modifiers.Meta : 0);
            if (type == "keydown")
            {
                var key = Text("key") ?? throw Error("a keydown has no 'key'.");
                return key is "Shift" or "Control" or "Alt" or "Meta" ? null : new() { Key = new(key, modifiers, time, Flag("repeat")) };
            }
            var kind = type switch
            {
                "pointerdown" => SampleKind.Down,
                "pointermove" => SampleKind.Move,
                "pointerup" => SampleKind.Up,
                "pointercancel" => SampleKind.Cancel,
                _ => throw Error(
                    $"'{type}' is not an event of a recording: use pointerdown, pointermove, pointerup, pointercancel, keydown or scroll."),
            };
            var pointer = Text("pointerType") switch
            {
                "mouse" => PointerType.Mouse,
                "pen" => PointerType.Pen,
                "touch" => PointerType.Touch,
                null => throw Error("a pointer event has no 'pointerType'."),
                var other => throw Error($"'{other}' is not a pointerType: use mouse, pen or touch."),
            };
            var intent = Text("intent");
            if (intent is not null && (kind != SampleKind.Down || !Intents.Contains(intent)))
                throw Error(kind != SampleKind.Down ? "an 'intent' stands at the pointerdown."
                    : $"'{intent}' is not an intent: use {string.Join(", ", Intents)}.");
            return new()
            {
                Pointer = new(kind, (int)(Number("pointerId") ?? 1), pointer, Place("clientX", kind), Place("clientY", kind), time)
                {
                    Button = (int)(Number("button") ?? (kind == SampleKind.Move ? -1 : 0)),
                    Buttons = (int)(Number("buttons") ?? (kind is SampleKind.Down or SampleKind.Move ? 1 : 0)),
                    Modifiers = modifiers,
                    IsPrimary = !element.TryGetProperty("isPrimary", out _) || Flag("isPrimary"),
                    Pressure = Number("pressure") ?? (kind is SampleKind.Up ? 0 : 0.5),
                },
                Intent = intent,
            };
        }

        // What a cancel says of the place is not to be read.
        private double Place(string name, SampleKind kind) =>
            Number(name) ?? (kind == SampleKind.Cancel ? 0 : throw Error($"a pointer event has no '{name}' (px)."));

        private double? Number(string name) => !element.TryGetProperty(name, out var value) || value.ValueKind == JsonValueKind.Null ? null
            : value.ValueKind == JsonValueKind.Number && Math.Abs(value.GetDouble()) <= Largest ? value.GetDouble()
            : throw Error(value.ValueKind == JsonValueKind.Number ? $"'{name}' is {value.GetRawText()}, which is too large."
            : $"'{name}' must be a number.");

        private string? Text(string name) => !element.TryGetProperty(name, out var value) || value.ValueKind == JsonValueKind.Null ? null
            : value.ValueKind == JsonValueKind.String ? value.GetString() : throw Error($"'{name}' must be text.");

        private bool Flag(string name) => element.TryGetProperty(name, out var value) && (value.ValueKind switch
        {
            JsonValueKind.True => true,
            JsonValueKind.False or JsonValueKind.Null => false,
            _ => throw Error($"'{name}' must be true or false."),
        });

        private InputException Error(string problem) => new(file, new(line, 1), problem);
    }

    /// <summary>The recording as JSON Lines.</summary>
    public string ToJsonLines()
    {
        var text = new StringBuilder();
        foreach (var input in Inputs) text.Append(Line(input)).Append('\n');
        return text.ToString();
    }

    private static string Line(RecordedInput input)
    {
        using var stream = new MemoryStream();
        using (var json = new Utf8JsonWriter(stream))
        {
            json.WriteStartObject();
            if (input.Pointer is { } p)
            {
                json.WriteString("type", p.Kind switch
                {
                    SampleKind.Down => "pointerdown",
                    SampleKind.Move => "pointermove",
                    SampleKind.Up => "pointerup",
                    _ => "pointercancel",
                });
                json.WriteNumber("timeStamp", Round(p.Time));
                json.WriteNumber("pointerId", p.PointerId);
                json.WriteString("pointerType", p.PointerType.ToString().ToLowerInvariant());
                json.WriteBoolean("isPrimary", p.IsPrimary);
                json.WriteNumber("clientX", Round(p.X));
                json.WriteNumber("clientY", Round(p.Y));
                json.WriteNumber("button", p.Button);
                json.WriteNumber("buttons", p.Buttons);
                json.WriteNumber("pressure", Round(p.Pressure));
                WriteModifiers(json, p.Modifiers);
                if (input.Intent is { } intent) json.WriteString("intent", intent);
            }
            else if (input.Key is { } k)
            {
                json.WriteString("type", "keydown");
                json.WriteNumber("timeStamp", Round(k.Time));
                json.WriteString("key", k.Key);
                if (k.IsRepeat) json.WriteBoolean("repeat", true);
                WriteModifiers(json, k.Modifiers);
            }
            else
            {
                json.WriteString("type", "scroll");
                json.WriteNumber("timeStamp", Round(input.ScrollTime));
                json.WriteNumber("scrollTop", Round(input.ScrollTop ?? 0));
            }
            json.WriteEndObject();
        }
        return Encoding.UTF8.GetString(stream.ToArray());
    }

    // Thousandths of a px and of a ms are finer than any device tells.
    private static decimal Round(double value) =>
        decimal.Round((decimal)(double.IsFinite(value) ? Math.Clamp(value, -1e15, 1e15) : 0), 3) / 1.000000000000000000m;

    private static void WriteModifiers(Utf8JsonWriter json, Modifiers modifiers)
    {
        if (modifiers.HasFlag(Modifiers.Ctrl)) json.WriteBoolean("ctrlKey", true);
        if (modifiers.HasFlag(Modifiers.Shift)) json.WriteBoolean("shiftKey", true);
        if (modifiers.HasFlag(Modifiers.Alt)) json.WriteBoolean("altKey", true);
        if (modifiers.HasFlag(Modifiers.Meta)) json.WriteBoolean("metaKey", true);
    }

    /// <summary>Such as <c>12 inputs over 840 ms</c>.</summary>
    public override string ToString() => Inputs.IsEmpty ? "no inputs"
        : string.Create(
        CultureInfo.InvariantCulture, $"{Inputs.Length} inputs over {Inputs.Max(i => i.Time) - Inputs.Min(i => i.Time):0} ms");
}
