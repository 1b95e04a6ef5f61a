using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json;
using Lectica.Input;

namespace Lectica.Testing;

/// <summary>
/// A W3C WebDriver actions script ("Actions", https://www.w3.org/TR/webdriver2/#actions): sources of pointer, key and wheel input whose
/// actions run tick by tick, side by side. A move's origin may also name a row or a part of one by its item's key, as <c>row:KEY</c>,
/// <c>check:KEY</c>, <c>mark:NAME:KEY</c>, <c>menu:KEY</c>, <c>handle:KEY</c> or <c>tray:NAME:KEY</c>, in place of a web element or as its
/// reference.
/// </summary>
public sealed class ActionScript(string file, ImmutableArray<ActionSource> sources)
{
    /// <summary>What errors call it.</summary>
    public string File { get; } = file;

    /// <summary>The sources of input.</summary>
    public ImmutableArray<ActionSource> Sources { get; } = sources;

    /// <summary>The property by which WebDriver marks a reference to an element.</summary>
    internal const string ElementKey = "element-6066-11e4-a52e-4f735466cecf";

    /// <summary>The longest that an action may take, ms: a day.</summary>
    public const double LongestDuration = 86_400_000;

    /// <summary>The number of ticks.</summary>
    public int Ticks => Sources.Max(s => (int?)s.Actions.Length) ?? 0;

    /// <summary>Reads a script file.</summary>
    /// <exception cref="InputException">There is no such file, or it is no such script.</exception>
    public static ActionScript Load(string path) => Parse(InputFile.Read(path, "a W3C WebDriver actions script (JSON)"), path);

    /// <summary>Reads a script from UTF-8 JSON; <paramref name="file"/> is what errors call it.</summary>
    /// <exception cref="InputException">It is no such script.</exception>
    public static ActionScript Parse(ReadOnlyMemory<byte> json, string file)
    {
        if (json.Span.StartsWith("\uFEFF"u8)) json = json[3..];
        JsonText.Check(file, json.Span);
        JsonDocument document;
        try
        {
            document = JsonDocument.Parse(json, new() { CommentHandling = JsonCommentHandling.Skip, AllowTrailingCommas = true });
        }
        catch (JsonException e)
        {
            throw InputException.Malformed(file, e);
        }
        using (document) return new Reader(json, file).Script(document.RootElement);
    }

    /// <summary>
    /// The script that does what a recording holds: a tick for each input, with pauses between, so that it takes as long. Modifiers become
    /// presses of their keys. What WebDriver has no action for, a scroll by the host, is left out.
    /// </summary>
    public static ActionScript Of(Recording recording)
    {
        ArgumentNullException.ThrowIfNull(recording);
        return new ActionWriter().Write(recording);
    }

    /// <summary>The script as JSON, as WebDriver's Perform Actions takes it but for origins that name rows.</summary>
    public string ToJson()
    {
        using var stream = new MemoryStream();
        using (var writer = new Utf8JsonWriter(stream, new() { Indented = true, NewLine = "\n" }))
        {
            writer.WriteStartObject();
            writer.WriteStartArray("actions");
            foreach (var source in Sources) WriteSource(writer, source);
            writer.WriteEndArray();
            writer.WriteEndObject();
        }
        return System.Text.Encoding.UTF8.GetString(stream.ToArray()) + "\n";
    }

    private static void WriteSource(Utf8JsonWriter writer, ActionSource source)
    {
        writer.WriteStartObject();
        writer.WriteString("type", source.Type);
        writer.WriteString("id", source.Id);
        if (source.Type == "pointer")
        {
            writer.WriteStartObject("parameters");
            writer.WriteString("pointerType", source.PointerType.ToString().ToLowerInvariant());
            writer.WriteEndObject();
        }
        writer.WriteStartArray("actions");
        foreach (var action in source.Actions)
        {
            writer.WriteStartObject();
            writer.WriteString("type", action.Type);
            if (action.Type is "pointerDown" or "pointerUp") writer.WriteNumber("button", action.Button);
            if (action.Type is "keyDown" or "keyUp") writer.WriteString("value", action.Value);
            if (action.Type is "pause" or "pointerMove" or "scroll") writer.WriteNumber("duration", action.Duration);
            if (action.Type is "pointerMove" or "scroll")
            {
                writer.WriteNumber("x", action.X);
                writer.WriteNumber("y", action.Y);
                writer.WriteString("origin", action.Origin);
            }
            if (action.Type == "scroll")
            {
                writer.WriteNumber("deltaX", action.DeltaX);
                writer.WriteNumber("deltaY", action.DeltaY);
            }
            writer.WriteEndObject();
        }
        writer.WriteEndArray();
        writer.WriteEndObject();
    }

    private sealed class Reader(ReadOnlyMemory<byte> json, string file)
    {
        private readonly Dictionary<string, TextPosition> _positions = JsonText.PositionsOfEntries(json.Span);

        public ActionScript Script(JsonElement root)
        {
            var path = "$";
            if (root.ValueKind == JsonValueKind.Object)
            {
                OnlyFields(root, path, "$schema", "actions");
                path = "$.actions";
                if (!root.TryGetProperty("actions", out root)) throw Error("$", "a script has a list of sources under 'actions'.");
            }
            if (root.ValueKind != JsonValueKind.Array) throw Error(path, "'actions' must be a list of sources.");
            var sources = ImmutableArray.CreateBuilder<ActionSource>();
            var ids = new HashSet<string>();
            var n = 0;
            foreach (var element in root.EnumerateArray())
            {
                var source = Source(element, $"{path}[{n++}]");
                if (!ids.Add(source.Id)) throw Error($"{path}[{n - 1}].id", $"two sources have the id '{source.Id}'; each needs its own.");
                sources.Add(source);
            }
            return new(file, sources.DrainToImmutable());
        }

        private ActionSource Source(JsonElement element, string path)
        {
            if (element.ValueKind != JsonValueKind.Object) throw Error(path, "a source is an object with type, id and actions.");
            OnlyFields(element, path, "type", "id", "parameters", "actions");
            var type = Text(element, path, "type") ?? throw Error(path, "a source needs a type: pointer, key, wheel or none.");
            if (type is not ("pointer" or "key" or "wheel" or "none"))
                throw Error(path + ".type", $"'{type}' is not a type of source: use pointer, key, wheel or none.");
            var id = Text(element, path, "id") ?? throw Error(path, "a source needs an id.");
            var pointer = PointerType.Mouse;
            if (element.TryGetProperty("parameters", out var parameters))
            {
                OnlyFields(parameters, path + ".parameters", "pointerType");
                if (Text(parameters, path + ".parameters", "pointerType") is { } name)
                    pointer = name switch
                    {
                        "mouse" => PointerType.Mouse,
                        "pen" => PointerType.Pen,
                        "touch" => PointerType.Touch,
                        _ => throw Error(path + ".parameters.pointerType", $"'{name}' is not a pointer type: use mouse, pen or touch."),
                    };
            }
            if (!element.TryGetProperty("actions", out var actions) || actions.ValueKind != JsonValueKind.Array)
                throw Error(path, "a source needs a list of actions.");
            var list = ImmutableArray.CreateBuilder<SourceAction>();
            foreach (var action in actions.EnumerateArray()) list.Add(Action(action, type, $"{path}.actions[{list.Count}]"));
            return new(type, id, pointer, list.DrainToImmutable());
        }

        private SourceAction Action(JsonElement element, string source, string path)
        {
            if (element.ValueKind != JsonValueKind.Object) throw Error(path, "an action is an object with a type.");
            var type = Text(element, path, "type") ?? throw Error(path, "an action needs a type.");
            string[] known = source switch
            {
                "pointer" => ["pause", "pointerDown", "pointerUp", "pointerMove", "pointerCancel"],
                "key" => ["pause", "keyDown", "keyUp"],
                "wheel" => ["pause", "scroll"],
                _ => ["pause"],
            };
            if (!known.Contains(type))
                throw Error(path + ".type", $"a source of type {source} has no action '{type}': use {string.Join(", ", known)}.");
            var duration = Number(element, path, "duration") ?? 0;
            if (duration is < 0 or > LongestDuration)
                throw Error(path + ".duration",
                    string.Create(CultureInfo.InvariantCulture,
                        $"a duration of {duration} ms cannot be played: it is 0 to {LongestDuration} ms, a day."));
            switch (type)
            {
                case "pause":
                    OnlyFields(element, path, "type", "duration");
                    return new(type, PositionOf(path)) { Duration = duration };
                case "keyDown" or "keyUp":
                    OnlyFields(element, path, "type", "value");
                    var value = Text(element, path, "value");
                    if (value is null || new System.Globalization.StringInfo(value).LengthInTextElements != 1)
                        throw Error(path,
                            "a key action needs a value of one character; special keys have WebDriver's code points, such as \\uE015 for " +
                                "ArrowDown.");
                    return new(type, PositionOf(path)) { Value = value };
                case "pointerDown" or "pointerUp":
                    OnlyFields(element, path, "type", "button", "width", "height", "pressure", "tangentialPressure", "tiltX", "tiltY",
                        "twist", "altitudeAngle", "azimuthAngle");
                    var button = Number(element, path, "button")
                        ?? throw Error(path, $"{type} needs a button: 0 for the main one or a contact.");
                    if (button is < 0 or > 4 || button != Math.Floor(button))
                        throw Error(path + ".button", "a button is a whole number from 0 to 4.");
                    return new(type, PositionOf(path)) { Button = (int)button };
                case "pointerCancel":
                    return new(type, PositionOf(path));
                case "scroll":
                    OnlyFields(element, path, "type", "x", "y", "deltaX", "deltaY", "duration", "origin");
                    return new(type, PositionOf(path))
                    {
                        X = Need(element, path, "x"),
                        Y = Need(element, path, "y"),
                        DeltaX = Need(element, path, "deltaX"),
                        DeltaY = Need(element, path, "deltaY"),
                        Duration = duration,
                        Origin = Origin(element, path),
                    };
                default:
                    OnlyFields(element, path, "type", "x", "y", "duration", "origin", "width", "height", "pressure", "tangentialPressure",
                        "tiltX", "tiltY", "twist", "altitudeAngle", "azimuthAngle");
                    return new(type, PositionOf(path))
                    {
                        X = Need(element, path, "x"),
                        Y = Need(element, path, "y"),
                        Duration = duration,
                        Origin = Origin(element, path),
                    };
            }
        }

        private string Origin(JsonElement element, string path)
        {
            if (!element.TryGetProperty("origin", out var origin)) return "viewport";
            var text = origin.ValueKind == JsonValueKind.Object && origin.TryGetProperty(ElementKey, out var reference)
                ? reference.ToString()
                : origin.ValueKind == JsonValueKind.String ? origin.GetString()! : "";
            if (text is "viewport" or "pointer") return text;
            foreach (var prefix in RowTarget.Prefixes)
                if (text.StartsWith(prefix + ":", StringComparison.Ordinal)) return text;
            throw Error(path + ".origin",
                $"'{text}' is not an origin: use viewport, pointer, or a row or part such as row:KEY, check:KEY, mark:NAME:KEY, " +
                    "menu:KEY, handle:KEY, expander:KEY or tray:NAME:KEY.");
        }

        private double Need(JsonElement element, string path, string name) =>
            Number(element, path, name) ?? throw Error(path, $"the action needs a number '{name}'.");

        private double? Number(JsonElement element, string path, string name)
        {
            if (!element.TryGetProperty(name, out var value)) return null;
            return value.ValueKind == JsonValueKind.Number && double.IsFinite(value.GetDouble()) ? value.GetDouble()
                : throw Error($"{path}.{name}", $"'{name}' must be a finite number.");
        }

        private string? Text(JsonElement element, string path, string name)
        {
            if (!element.TryGetProperty(name, out var value)) return null;
            return value.ValueKind == JsonValueKind.String ? value.GetString() : throw Error($"{path}.{name}", $"'{name}' must be text.");
        }

        private void OnlyFields(JsonElement element, string path, params string[] known)
        {
            if (element.ValueKind != JsonValueKind.Object) throw Error(path, "this must be an object.");
            foreach (var property in element.EnumerateObject())
                if (!known.Contains(property.Name))
                    throw Error($"{path}.{property.Name}", $"unknown field '{property.Name}'; known here: {string.Join(", ", known)}.");
        }

        private TextPosition PositionOf(string path) => _positions.TryGetValue(path, out var position) ? position
            : TextPosition.OfPath(json.Span, path);

        private InputException Error(string path, string problem) => new(file, PositionOf(path), problem);
    }
}

/// <summary>One source of input.</summary>
public sealed class ActionSource(string type, string id, PointerType pointerType, ImmutableArray<SourceAction> actions)
{
    /// <summary>pointer, key, wheel or none.</summary>
    public string Type { get; } = type;

    /// <summary>Its id.</summary>
    public string Id { get; } = id;

    /// <summary>Of a pointer: what moves it.</summary>
    public PointerType PointerType { get; } = pointerType;

    /// <summary>One action for each tick.</summary>
    public ImmutableArray<SourceAction> Actions { get; } = actions;
}

/// <summary>One action of a source. Fields that its type does not have keep their defaults.</summary>
/// <param name="Type">pause, pointerDown, pointerUp, pointerMove, pointerCancel, keyDown, keyUp or scroll.</param>
/// <param name="Position">Where it stands in the script.</param>
public sealed record SourceAction(string Type, TextPosition Position)
{
    /// <summary>ms.</summary>
    public double Duration { get; init; }

    /// <summary>0 main, 1 middle, 2 secondary.</summary>
    public int Button { get; init; }

    /// <summary>px from the origin.</summary>
    public double X { get; init; }

    /// <summary>px from the origin.</summary>
    public double Y { get; init; }

    /// <summary>px to scroll by.</summary>
    public double DeltaX { get; init; }

    /// <summary>px to scroll by.</summary>
    public double DeltaY { get; init; }

    /// <summary>viewport, pointer, or a row or part by key.</summary>
    public string Origin { get; init; } = "viewport";

    /// <summary>Of a key: the character.</summary>
    public string Value { get; init; } = "";
}
