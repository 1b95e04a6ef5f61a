using System.Collections.Immutable;
using System.Globalization;
using System.Text.Json;
using System.Text.Json.Serialization;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Gestures;
using Lectica.Input;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Marking;
using Lectica.Testing;

namespace Lectica.Cli;

/// <summary>A list file as it is written; docs/schemas/list.schema.json describes it.</summary>
internal sealed record ListFileJson
{
    [JsonPropertyName("$schema")]
    public string? Schema { get; init; }
    public string? Title { get; init; }
    public JsonElement? Rows { get; init; }
    public string? Key { get; init; }
    public string? Label { get; init; }
    public string? Detail { get; init; }
    public string? Picture { get; init; }
    public string? Search { get; init; }
    public Dictionary<string, JsonElement>? DisabledWhen { get; init; }
    public Dictionary<string, JsonElement>? ShowWhen { get; init; }
    public Dictionary<string, JsonElement>? PinnedWhen { get; init; }
    public string? Mode { get; init; }
    public int? Limit { get; init; }
    public bool AlwaysSelecting { get; init; }
    public bool EndsSelectingWhenEmpty { get; init; }
    public bool KeepsHiddenSelected { get; init; }
    public string? Keys { get; init; }
    public Dictionary<string, string[]>? Chords { get; init; }
    public string? Mod { get; init; }
    public bool RightToLeft { get; init; }
    public string? Culture { get; init; }
    public string[]? Parts { get; init; }
    public double? RowHeight { get; init; }
    public TilesJson? Tiles { get; init; }
    public StripJson? Strip { get; init; }
    public OutlineJson? Outline { get; init; }
    public ColumnJson[]? Columns { get; init; }
    public ViewportJson? Viewport { get; init; }
    public CommandJson[]? Commands { get; init; }
    public MarkJson[]? Marks { get; init; }
    public SectionsJson? Sections { get; init; }
    public string? SortBy { get; init; }
    public string? SpaceMark { get; init; }
    public string? LongPress { get; init; }
    public bool MayMove { get; init; }
    public bool ReducedMotion { get; init; }
    public Dictionary<string, JsonElement>? Thresholds { get; init; }
    public string[]? Selected { get; init; }
    public string? Loading { get; init; }
    public string? Failed { get; init; }
}

/// <summary>A command of a list file: what it says, where it shows, and which of the things that the tool can do it does.</summary>
internal sealed record CommandJson
{
    public string? Id { get; init; }
    public string? Label { get; init; }
    public string? Icon { get; init; }
    public string? Role { get; init; }
    public string? Group { get; init; }
    public string? Submenu { get; init; }
    public string[]? Chords { get; init; }
    public string[]? Shows { get; init; }
    public bool SwipesThrough { get; init; }
    public int Order { get; init; }
    public int Priority { get; init; }
    public string? Does { get; init; }
    public string? Notice { get; init; }
}

/// <summary>Sections of a list file: by a field's value, or by whether a mark is on.</summary>
internal sealed record SectionsJson(string? By = null, string[]? Order = null, Dictionary<string, string>? Titles = null,
    string? Empty = null, string[]? Collapsed = null, double LingerTime = 0);

internal sealed record MarkJson(
    string? Name = null, string? Label = null, string? Look = null, Dictionary<string, JsonElement>? OnWhen = null);

/// <summary>How a strip of a list file lies, px.</summary>
internal sealed record StripJson(double ItemWidth = 132, double HeadingWidth = 112);

/// <summary>How tiles of a list file lie, px.</summary>
internal sealed record TilesJson(double LeastWidth = 160, double Height = 176, double Gap = 8);

/// <summary>Levels of a list file: the field that has the key of the row which a row lies below, empty on the first level.</summary>
internal sealed record OutlineJson(string? Parent = null, int Open = 1);

/// <summary>A column of a list file: the field that it shows, and how.</summary>
internal sealed record ColumnJson(
    string? Field = null, string? Label = null, double? Width = null, double Share = 1, string? Align = null, bool Sorts = true);

internal sealed record ViewportJson(double Width = 400, double Height = 520, double ScrollTop = 0);

[JsonSourceGenerationOptions(PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase,
    UnmappedMemberHandling = JsonUnmappedMemberHandling.Disallow, ReadCommentHandling = JsonCommentHandling.Skip,
    AllowTrailingCommas = true)]
[JsonSerializable(typeof(ListFileJson))]
[JsonSerializable(typeof(ExpectedJson))]
internal sealed partial class CliJson : JsonSerializerContext;

/// <summary>A list file, read and checked, of which lists can be made.</summary>
internal sealed class ListFile
{
    private readonly ListFileJson _json;
    private readonly string _path;
    private readonly byte[] _bytes;
    private readonly RowTable _table;
    private readonly List<Row> _rows = [];
    private readonly ListOptions _options;
    private readonly Template? _label, _detail, _picture, _search;
    private readonly Func<Row, bool>? _shown, _disabled;

    private ListFile(string path, byte[] bytes, ListFileJson json, RowTable table, Progress progress)
    {
        (_path, _bytes, _json, _table) = (path, bytes, json, table);
        var keyField = json.Key is { } key ? table.FieldAt(key, path, () => PositionOf("key")) : -1;
        ReadKeys(keyField, progress);
        _label = Read(json.Label, "label") ?? DefaultLabel(keyField);
        _detail = Read(json.Detail, "detail");
        _picture = Read(json.Picture, "picture");
        _search = Read(json.Search, "search");
        _shown = Test(json.ShowWhen, "showWhen");
        var disabled = Test(json.DisabledWhen, "disabledWhen");
        _disabled = disabled is null ? null : row => disabled(row);
        _options = MakeOptions();
    }

    public string? Title => _json.Title;

    public ListOptions Options => _options;

    /// <summary>Where the pictures are: beside the list file.</summary>
    public string Folder => Path.GetDirectoryName(Path.GetFullPath(_path))!;

    /// <summary>
    /// Reads a list file, or a rows file by itself, whose key is its field <c>id</c> or <c>key</c> and whose label is the next one.
    /// </summary>
    public static ListFile Load(string path, Progress progress)
    {
        path = Files.Locate(path);
        var bytes = Files.Read(path, "a list (JSON), or its rows alone (CSV or JSON Lines)");
        if (Path.GetExtension(path).ToLowerInvariant() is ".csv" or ".jsonl" or ".ndjson")
            return Bare(path, bytes, RowTable.Load(path, progress), progress);
        using var document = Files.ParseJson(path, bytes);
        if (document.RootElement.ValueKind == JsonValueKind.Array)
            return Bare(path, bytes, RowTable.FromArray(path, bytes, "$", document.RootElement), progress);

        var json = Parse(path, bytes, document.RootElement);
        var table = json.Rows switch
        {
            { ValueKind: JsonValueKind.String } file when file.GetString()!.Length == 0 =>
                throw new InputException(path, TextPosition.OfPath(bytes, "$.rows"),
                "'rows' is empty: give the path of a CSV, JSON or JSON Lines file, or a list of objects."),
            { ValueKind: JsonValueKind.String } file =>
                RowTable.Load(Path.Combine(Path.GetDirectoryName(path)!, file.GetString()!), progress),
            { ValueKind: JsonValueKind.Array } inline => RowTable.FromArray(path, bytes, "$.rows", inline),
            null when json.Loading is not null || json.Failed is not null => new(path, [], [], _ => new(1, 1)),
            _ => throw new InputException(path, TextPosition.OfPath(bytes, "$.rows"),
                "'rows' must be the path of a CSV, JSON or JSON Lines file, or a list of objects."),
        };
        return new(path, bytes, json, table, progress);
    }

    private static ListFileJson Parse(string path, byte[] bytes, JsonElement root)
    {
        Files.RefuseNulls(path, bytes, root);
        try
        {
            return JsonSerializer.Deserialize(bytes, CliJson.Default.ListFileJson)
                ?? throw new InputException(path, new(1, 1), "a list file is a JSON object, not null.");
        }
        catch (JsonException e)
        {
            throw Wrong(path, bytes, e);
        }
    }

    private static ListFile Bare(string path, byte[] bytes, RowTable table, Progress progress)
    {
        var key = table.Fields.FirstOrDefault(f => f is "id" or "key");
        return new(path, bytes, new() { Title = Path.GetFileNameWithoutExtension(path), Key = key }, table, progress);
    }

    private DatabaseRows? _database;
    private DatabaseRows.Rows? _stored;

    /// <summary>Whether its rows are those of a database.</summary>
    public bool IsOfDatabase => _database is not null;

    /// <summary>The field that each mark is written to.</summary>
    private Dictionary<string, string> StoredMarks(DatabaseRows database)
    {
        var fields = new Dictionary<string, string>();
        foreach (var (mark, i) in (_json.Marks ?? []).Select((m, i) => (m, i)))
        {
            if (mark.OnWhen is not { Count: 1 } on || on.Single() is not { Value: { ValueKind: not JsonValueKind.Array } value } field
                || value.ToString() != "1")
                throw Error($"marks[{i}]",
                    "with --write a mark is written to a field of the database: say which by \"onWhen\": {\"FIELD\": 1}.");
            database.CheckMark(field.Key);
            fields[mark.Name ?? ""] = field.Key;
        }
        return fields;
    }

    /// <summary>A list over the rows of a database, which a list file without rows of its own may say more of.</summary>
    public static ListFile Load(string? path, DatabaseRows database, string name, Progress progress)
    {
        var table = new RowTable(name, database.Fields, [], _ => new(1, 1));
        if (path is null)
            return new(name, [], new() { Title = Path.GetFileNameWithoutExtension(name), Mode = "multiple" }, table,
                progress)
            { _database = database };
        path = Files.Locate(path);
        var bytes = Files.Read(path, "a list (JSON)");
        using var document = Files.ParseJson(path, bytes);
        var json = Parse(path, bytes, document.RootElement);
        foreach (var (field,
            isThere) in ((string, bool)[])[("rows", json.Rows is not null), ("showWhen", json.ShowWhen is not null),
            ("disabledWhen", json.DisabledWhen is not null), ("pinnedWhen", json.PinnedWhen is not null),
            ("sections", json.Sections is not null), ("sortBy", json.SortBy is not null), ("outline", json.Outline is not null),
                ("selected", json.Selected is not null), ("key", json.Key is not null)])
            if (isThere)
                throw new InputException(path, TextPosition.OfPath(bytes, "$." + field),
                    $"'{field}' does not go with rows of a database: say it by --key, --order or --query.");
        return new(path, bytes, json, table, progress) { _database = database };
    }

    /// <summary>A list over the rows.</summary>
    public InteractiveList<Row, string> Open(Thresholds? thresholds = null)
    {
        var list = InteractiveList.Awaiting<Row, string>(
            row => row.Key, _options with { ChecksKeys = false, Thresholds = thresholds ?? _options.Thresholds });
        // The app that the tool is: it shows each menu.
        list.MenuRequested += (_, _) => { };
        // Rows of its own: what is moved or changed here is not in another list of this file.
        List<Row> rows = _options.MayMove && (_json.Sections is not null || _json.Outline is not null)
            ? [.. _rows.Select(r => r with { Values = [.. r.Values] })] : [.. _rows];
        list.Content = Content;
        if (_disabled is not null) list.EnabledWhen = row => !_disabled(row);
        if (_shown is not null) list.Filter = _shown;
        if (Test(_json.PinnedWhen, "pinnedWhen") is { } pinned) list.PinnedWhen = pinned;
        if (_json.Loading is not null || _json.Failed is not null)
        {
            if (_json.Failed is { } failed) list.ShowFailed(failed);
            else list.ShowLoading(_json.Loading!);
        }
        else if (_database is { } database)
        {
            Exception? failed = null;
            list.ReadFailed += (_, e) => failed = e.Error;
            list.Show(_stored = database.Source(database.MayWrite ? StoredMarks(database) : new Dictionary<string, string>(),
                database.MayWrite && _options.MayMove));
            list.WaitUntilRead();
            if (failed is not null) throw new InputException(_table.File, null, $"the rows cannot be read: {failed.Message}");
        }
        else
        {
            SetLevels(list);
            try
            {
                list.Show(rows);
            }
            catch (OutlineException e)
            {
                throw e.Key is string key && _rows.FindIndex(r => r.Key == key) is >= 0 and var at
                    ? new InputException(_table.File, _table.PlaceOf(at), e.Message) : Error("outline", e.Message);
            }
        }
        Arrange(list, rows);
        if (_json.Selected is { } selected)
        {
            if (selected.FirstOrDefault(k => list.IndexOf(k) < 0) is { } absent)
                throw Error("selected", $"there is no row '{absent}' to select.");
            if (list.SelectOnly(ItemSet.Of(list.Count, selected.Select(list.IndexOf))).Refusal is { } refusal)
                throw Error("selected", refusal.Reason);
        }
        if (_options.Policy.SelectsMany)
        {
            void Count() => list.Subtitle = list.SelectedCount == 0 ? null : $"{list.SelectedCount} selected";
            list.SelectionChanged += (_, _) => Count();
            Count();
        }
        if (_json.Viewport is { ScrollTop: not 0 } viewport) list.ScrollTo(viewport.ScrollTop);
        return list;
    }

    /// <summary>The rows as a choice field.</summary>
    public ChoiceField<Row, string> Choice(bool open)
    {
        var field = new ChoiceField<Row, string>(_rows, row => row.Key, _options with { ChecksKeys = false }) { Label = _json.Title };
        field.List.Content = Content;
        if (_disabled is not null) field.List.EnabledWhen = row => !_disabled(row);
        if (_shown is not null) field.List.Filter = _shown;
        if (_json.Selected is [var first, ..])
            field.Value = _rows.Find(r => r.Key == first) ?? throw Error("selected", $"there is no row '{first}' to select.");
        if (open) field.Take(new KeyPress("Enter"));
        return field;
    }

    private RowContent Content(Row row) => new(_label?.Of(row) ?? row.Key, _detail?.Of(row), _picture?.Of(row), null, _search?.Of(row));

    private void ReadKeys(int field, Progress progress)
    {
        var seen = new Dictionary<string, int>(_table.Rows.Count);
        _rows.Capacity = _table.Rows.Count;
        for (var i = 0; i < _table.Rows.Count; i++)
        {
            var key = field < 0 ? $"#{i}" : _table.Rows[i][field];
            if (key.Length == 0)
                throw new InputException(_table.File, _table.PlaceOf(i),
                    $"the row has no key: its field '{_table.Fields[field]}' is empty. Every row needs one; leave 'key' out of the list " +
                        "file to do without.");
            if (!seen.TryAdd(key, i))
                throw new InputException(_table.File, _table.PlaceOf(i),
                    $"the key '{key}' is taken: the row at line {_table.PlaceOf(seen[key]).Line} has it too, this " +
                        $"is line {_table.PlaceOf(i).Line}. Keys must be unique.");
            _rows.Add(new(key, _table.Rows[i]));
            if ((i & 65535) == 0) progress.Report("Checking keys", (double)i / _table.Rows.Count);
        }
    }

    private Template? DefaultLabel(int keyField) =>
        Enumerable.Range(0, _table.Fields.Count).Where(i => i != keyField).Select(i => (Template?)Template.Field(i)).FirstOrDefault();

    private Template? Read(string? text, string name) =>
        text is null ? null
        : Template.Parse(text, field => _table.FieldAt(field, _path, () => PositionOf(name)), problem => Error(name, problem));

    private Func<Row, bool>? Test(Dictionary<string, JsonElement>? conditions, string name)
    {
        if (conditions is null) return null;
        var tests = new List<(int Field, HashSet<string> Values)>();
        foreach (var (field, values) in conditions)
        {
            HashSet<string> allowed = values.ValueKind == JsonValueKind.Array ? [.. values.EnumerateArray().Select(v => v.ToString())]
                : [values.ToString()];
            tests.Add((_table.FieldAt(field, _path, () => PositionOf($"{name}.{field}")), allowed));
        }
        return row => tests.TrueForAll(t => t.Values.Contains(row.Values[t.Field]));
    }

    private KeyChord ChordOf(string text, string place)
    {
        try
        {
            return KeyChord.Parse(text);
        }
        catch (FormatException e)
        {
            throw Error(place, e.Message);
        }
    }

    private ListOptions MakeOptions()
    {
        if (_json is { Strip: not null, Tiles: not null }) throw Error("strip", "items lie in tiles or in a strip: leave one of them out.");
        var keys = KeyTable.All.FirstOrDefault(t => t.Name == (_json.Keys ?? "moving"))
            ?? throw Unknown("keys", _json.Keys!, KeyTable.All.Select(t => t.Name));
        foreach (var (text, acts) in _json.Chords ?? [])
        {
            ActKind ActOf(string name) => ActNames.Find(name) ?? throw Unknown("chords", name, ActNames.All);
            keys = keys.With(new(ChordOf(text, "chords"), [.. acts.Select(ActOf)], Direction.Here));
        }
        var options = new ListOptions
        {
            Title = _json.Title,
            Mode = _json.Mode switch
            {
                null or "single" => SelectionMode.Single,
                "none" => SelectionMode.None,
                "single-required" => SelectionMode.SingleRequired,
                "multiple" => SelectionMode.Multiple,
                var other => throw Unknown("mode", other, ["none", "single", "single-required", "multiple"]),
            },
            Limit = _json.Limit ?? int.MaxValue,
            AlwaysSelecting = _json.AlwaysSelecting,
            EndsSelectingWhenEmpty = _json.EndsSelectingWhenEmpty,
            KeepsHiddenSelected = _json.KeepsHiddenSelected,
            Keys = keys,
            ModKey = _json.Mod switch
            {
                null or "ctrl" => ModKey.Ctrl,
                "meta" => ModKey.Meta,
                var other => throw Unknown("mod", other, ["ctrl", "meta"]),
            },
            IsRightToLeft = _json.RightToLeft,
            Culture = Culture(),
            Parts = Parts(),
            SpaceMark = _json.SpaceMark,
            LongPress = _json.LongPress switch
            {
                null or "menu" => LongPressMeaning.Menu,
                "start-selecting" => LongPressMeaning.StartSelecting,
                "grab" => LongPressMeaning.Grab,
                "nothing" => LongPressMeaning.Nothing,
                var other => throw Unknown("longPress", other, ["menu", "start-selecting", "grab", "nothing"]),
            },
            MayMove = _json.MayMove,
            ReducedMotion = _json.ReducedMotion,
            Thresholds = ThresholdsJson.Read(_json.Thresholds, (field, problem) => Error(field, problem)),
            RowHeight = _json.RowHeight ?? 52,
            Layout = _json.Strip is { } strip ? new Strip(strip.ItemWidth) { HeadingWidth = strip.HeadingWidth } : _json.Tiles is { } tiles
                ? new Tiles(tiles.LeastWidth, tiles.Height) { Gap = tiles.Gap } : ListLayout.Rows,
            Viewport = _json.Viewport is { } v ? new(v.Width, v.Height) : Viewport.Default,
        };
        try
        {
            options.Validate();
        }
        catch (ArgumentOutOfRangeException e)
        {
            var field = e.ParamName switch
            {
                nameof(options.Limit) => "limit",
                nameof(options.RowHeight) => "rowHeight",
                nameof(options.Viewport) => "viewport",
                nameof(options.Layout) => _json.Strip is null ? "tiles" : "strip",
                _ => "thresholds",
            };
            throw Error(field, e.Message.Split(" (Parameter")[0]);
        }
        return options;
    }

    private CultureInfo Culture()
    {
        try
        {
            return _json.Culture is { } name ? CultureInfo.GetCultureInfo(name) : CultureInfo.InvariantCulture;
        }
        catch (CultureNotFoundException)
        {
            throw Error("culture", $"'{_json.Culture}' is not a culture: write a BCP 47 tag such as en, de-CH or ar.");
        }
    }

    /// <summary>Gives a list the file's marks and commands; what they do is done to <paramref name="rows"/>.</summary>
    private void Arrange(InteractiveList<Row, string> list, List<Row> rows)
    {
        var marks = new List<Mark<Row>>();
        foreach (var (mark, i) in (_json.Marks ?? []).Select((m, i) => (m, i)))
        {
            var name = mark.Name is { Length: > 0 } given ? given : throw Error($"marks[{i}]", "a mark needs a name.");
            var isOn = Test(mark.OnWhen, $"marks[{i}].onWhen");
            HashSet<string> on = isOn is null ? [] : [.. _rows.Where(isOn).Select(r => r.Key)];
            marks.Add(new(name)
            {
                Label = mark.Label,
                Look = mark.Look switch
                {
                    null or "ring" => MarkLook.Ring,
                    "star" => MarkLook.Star,
                    "flag" => MarkLook.Flag,
                    "tick" => MarkLook.Tick,
                    var other => throw Unknown($"marks[{i}].look", other, ["ring", "star", "flag", "tick"]),
                },
                // Rows of a database are not there yet: of each that has been turned it is known, or the database says it.
                Get = row => (_database?.MayWrite != true && on.Contains(row.Key)) != (row.Origin is not null && isOn?.Invoke(row) == true),
                Set = (row, value) => _ = value != (row.Origin is not null && isOn?.Invoke(row) == true) ? on.Add(row.Key)
                    : on.Remove(row.Key),
            });
        }
        try
        {
            list.Marks = [.. marks];
            SetColumns(list);
            SectionsAndOrder(list);
            list.Commands = [.. (_json.Commands ?? []).Select((c, i) => Command(c, $"commands[{i}]", list, rows))];
        }
        catch (ArgumentException e)
        {
            throw Error(e.Message.Contains("marks have", StringComparison.Ordinal) ? "marks" : "commands", e.Message);
        }
    }

    private void SetLevels(InteractiveList<Row, string> list)
    {
        if (_json.Outline is not { } outline) return;
        foreach (var (name,
            isThere) in ((string, bool)[])[("sections", _json.Sections is not null), ("sortBy", _json.SortBy is not null),
            ("tiles", _json.Tiles is not null), ("strip", _json.Strip is not null)])
            if (isThere) throw Error("outline", $"an outline does not go with '{name}': leave one of them out.");
        if (outline.Open < 1) throw Error("outline.open", $"at least one level is open, not {outline.Open}.");
        var field = _table.FieldAt(outline.Parent ?? throw Error(
            "outline", "an outline needs 'parent': the field that has the key of the row which a row lies below."), _path,
                () => PositionOf("outline.parent"));
        list.Outline = Outline.ByParent((Row row) => row.Values[field].Length == 0 ? null : row.Values[field]) with
        {
            OpenLevels = outline.Open,
            Assign = (row, parent) => row.Values[field] = parent?.Key ?? "",
        };
    }

    private void SetColumns(InteractiveList<Row, string> list)
    {
        if (_json.Columns is not { Length: > 0 } columns) return;
        if (_json.Tiles is not null || _json.Strip is not null)
            throw Error("columns", $"columns go with rows: leave '{(_json.Strip is null ? "tiles" : "strip")}' out, or the columns.");
        try
        {
            list.Columns = [.. columns.Select((column, i) =>
            {
                var name = column.Field ?? throw Error($"columns[{i}]", "a column needs 'field': what it shows of a row.");
                var at = _table.FieldAt(name, _path, () => PositionOf($"columns[{i}].field"));
                return new Column<Row>(name, column.Label ?? name, row => row.Values[at])
                {
                    Width = column.Width,
                    Share = column.Share,
                    AlignsEnd = column.Align switch
                    {
                        null or "start" => false,
                        "end" => true,
                        var other => throw Unknown($"columns[{i}].align", other, ["start", "end"]),
                    },
                    Compare = column.Sorts ? (a, b) => Compare(a.Values[at], b.Values[at]) : null,
                };
            })];
        }
        catch (ArgumentException e)
        {
            throw Error("columns", e.Message);
        }
    }

    private void SectionsAndOrder(InteractiveList<Row, string> list)
    {
        if (_json.SortBy is { } column
            && list.Columns.FirstOrDefault(c => c.Name == column.TrimStart('-')) is { Compare: not null } sorted)
            list.Sort = new(sorted.Name, column.StartsWith('-'));
        else if (_json.SortBy is { } sort)
        {
            var down = sort.StartsWith('-');
            var field = _table.FieldAt(down ? sort[1..] : sort, _path, () => PositionOf("sortBy"));
            list.SortBy = (a, b) => (down ? -1 : 1) * Compare(a.Values[field], b.Values[field]);
        }
        if (_json.Sections is not { } sections) return;
        Func<Row, string> of;
        Action<Row, string> assign;
        if (sections.By is { } by && by.StartsWith("mark:", StringComparison.Ordinal))
        {
            var mark = list.Marks.FirstOrDefault(m => m.Name == by[5..])
                ?? throw Error("sections.by", $"there is no mark '{by[5..]}' in the list.");
            of = row => mark.Get!(row) ? "on" : "off";
            assign = (row, key) => mark.Set!(row, key == "on");
        }
        else
        {
            var field = _table.FieldAt(sections.By ?? throw Error(
                "sections", "sections need 'by': a field, or mark:NAME for those with a mark (on) and without (off)."), _path,
                    () => PositionOf("sections.by"));
            of = row => row.Values[field];
            assign = (row, key) => row.Values[field] = key;
        }
        list.Sections = new(of)
        {
            Order = sections.Order ?? [],
            TitleOf = key => sections.Titles?.GetValueOrDefault(key) ?? key,
            EmptyText = sections.Empty is { } empty ? _ => empty : null,
            LingerTime = sections.LingerTime,
            Assign = assign,
        };
        foreach (var key in sections.Collapsed ?? [])
            if (list.CollapseOrExpand(key).Refusal is { } refusal) throw Error("sections.collapsed", refusal.Reason);
    }

    // Numbers by their value, other texts as they stand.
    private static int Compare(string a, string b) =>
        double.TryParse(a, CultureInfo.InvariantCulture, out var one) && double.TryParse(b, CultureInfo.InvariantCulture, out var other)
        ? one.CompareTo(other) : string.CompareOrdinal(a, b);

    private Command<Row, string> Command(CommandJson json, string place, InteractiveList<Row, string> list, List<Row> rows)
    {
        var id = json.Id is { Length: > 0 } given ? given : throw Error(place, "a command needs an id.");
        var shows = ShowIn.None;
        foreach (var where in json.Shows ?? ["menu"])
            shows |= where switch
            {
                "menu" => ShowIn.Menu,
                "leading" => ShowIn.LeadingTray,
                "trailing" => ShowIn.TrailingTray,
                "toolbar" => ShowIn.Toolbar,
                _ => throw Unknown(place + ".shows", where, ["menu", "leading", "trailing", "toolbar"]),
            };
        var command = new Command<Row, string>(id, json.Label ?? id)
        {
            Icon = json.Icon,
            Role = json.Role switch
            {
                null or "neutral" => CommandRole.Neutral,
                "positive" => CommandRole.Positive,
                "warning" => CommandRole.Warning,
                "destructive" => CommandRole.Destructive,
                var other => throw Unknown(place + ".role", other, ["neutral", "positive", "warning", "destructive"]),
            },
            Group = json.Group ?? "",
            Submenu = json.Submenu,
            Order = json.Order,
            Priority = json.Priority,
            ShowIn = shows,
            SwipesThrough = json.SwipesThrough,
            Chords = [.. (json.Chords ?? []).Select(text => ChordOf(text, place + ".chords"))],
            Notice = json.Notice is { } notice
                ? target => notice.Replace("{n}", target.Count.ToString(CultureInfo.InvariantCulture), StringComparison.Ordinal) : null,
        };
        Dictionary<string, (Row Row, int Place)[]> taken = [];
        return json.Does switch
        {
            // The app is only told.
            null or "nothing" => command with { Do = _ => { } },
            "remove" or "top" or "duplicate" or "add" when _database is { MayWrite: false } =>
                throw Error(place + ".does",
                $"'{json.Does}' changes the rows, and the database is opened read-only: play it with --write."),
            "top" or "duplicate" or "add" when _database is not null =>
                throw Error(place + ".does",
                $"'{json.Does}' is nothing that the tool can do with rows of a database: use nothing, remove, or toggle:MARK."),
            "remove" when _stored is { } stored => command with { Do = target => stored.Remove(target.Condition) },
            // A row goes with all that is below it.
            "remove" when list.Outline is not null => command with
            {
                Do = target =>
                {
                    var keys = list.WithBelow(target.Keys).ToHashSet();
                    taken[string.Join('\n', target.Keys)] =
                        [.. rows.Select((row, place) => (row, place)).Where(r => keys.Contains(r.row.Key))];
                    rows.RemoveAll(r => keys.Contains(r.Key));
                    list.Show(rows);
                },
                Inverse = target =>
                {
                    foreach (var (row, place) in taken[string.Join('\n', target.Keys)]) rows.Insert(Math.Min(place, rows.Count), row);
                    list.Show(rows);
                },
            },
            "remove" => command with
            {
                Do = target =>
                {
                    rows.RemoveAll(r => target.Keys.Contains(r.Key));
                    list.Show(rows);
                },
                Inverse = target =>
                {
                    for (var i = 0; i < target.Items.Count; i++) rows.Insert(target.Indexes[i], target.Items[i]);
                    list.Show(rows);
                },
            },
            "top" => command with
            {
                EnabledFor = target => target.Indexes.Where((place, i) => place != i).Any(),
                Do = target =>
                {
                    rows.RemoveAll(r => target.Keys.Contains(r.Key));
                    rows.InsertRange(0, target.Items);
                    list.Show(rows);
                },
            },
            "duplicate" => command with
            {
                Do = target =>
                {
                    foreach (var row in target.Items)
                        rows.Insert(rows.FindIndex(r => r.Key == row.Key) + 1, new(FreeKey(rows, row.Key), row.Values));
                    list.Show(rows);
                },
            },
            "add" => command with
            {
                Scope = CommandScope.List,
                Do = _ =>
                {
                    var key = FreeKey(rows, "new");
                    rows.Insert(0, new(key, [.. _table.Fields.Select(field => field == _json.Key ? key : "new")]));
                    list.Show(rows);
                },
            },
            _ when json.Does.StartsWith("toggle:", StringComparison.Ordinal) && (_json.Marks ?? []).Any(m => m.Name == json.Does[7..]) =>
                command with
                {
                    Do = target => _ = list.IsPaged && target.Count > 1 ? list.ToggleMark(json.Does[7..])
                        : list.ToggleMarkOf(json.Does[7..], target.Keys),
                },
            var other => throw Error(
                place + ".does",
                    $"'{other}' is nothing that the tool can do: use nothing, remove, top, duplicate, add, or toggle:MARK with a mark of " +
                        "the list."),
        };
    }

    /// <summary>A key that no row has: this one with a number.</summary>
    private static string FreeKey(List<Row> rows, string key)
    {
        for (var n = 2; ; n++)
            if (!rows.Exists(r => r.Key == $"{key}-{n}")) return $"{key}-{n}";
    }

    private RowParts Parts()
    {
        var parts = new RowParts();
        foreach (var name in _json.Parts ?? [])
            parts = name switch
            {
                "check" => parts with { Check = true },
                "menu" => parts with { Menu = true },
                "handle" => parts with { Handle = true },
                _ when name.StartsWith("mark:", StringComparison.Ordinal) && name.Length > 5 =>
                    parts with { Marks = parts.Marks.Add(name[5..]) },
                _ => throw Unknown("parts", name, ["check", "mark:NAME", "menu", "handle"]),
            };
        foreach (var name in parts.Marks) CheckMark("parts", name);
        if (parts.Marks.GroupBy(m => m).FirstOrDefault(g => g.Count() > 1) is { } twice)
            throw Error("parts", $"'mark:{twice.Key}' is there twice.");
        if (parts.Handle && !_json.MayMove)
            throw Error("parts", "rows have a handle, and nothing may be moved: add \"mayMove\": true, or leave the handle out.");
        if (_json.SpaceMark is { } space) CheckMark("spaceMark", space);
        return parts;
    }

    private void CheckMark(string field, string name)
    {
        string[] names = [.. (_json.Marks ?? []).Select(m => m.Name ?? "")];
        if (!names.Contains(name))
            throw Error(field,
                $"there is no mark '{name}': {(names.Length == 0 ? "the file has no marks" : $"there are {string.Join(", ", names)}")}.");
    }

    private TextPosition PositionOf(string field) => TextPosition.OfPath(_bytes, "$." + field);

    private InputException Error(string field, string problem) => new(_path, PositionOf(field), problem);

    private InputException Unknown(string field, string value, IEnumerable<string> known) =>
        Error(field, $"'{value}' is not known here: use {string.Join(", ", known)}.");

    // The message says of which type it is, at its end.
    private static List<string> FieldsOf(string message) =>
        ((Type[])[typeof(ListFileJson), typeof(ExpectedJson), typeof(CommandJson), typeof(MarkJson), typeof(SectionsJson),
        typeof(ViewportJson), typeof(TilesJson), typeof(StripJson), typeof(OutlineJson), typeof(ColumnJson)])
            .Where(t => message.Contains($"'{t.FullName}'", StringComparison.Ordinal))
            .SelectMany(t => CliJson.Default.GetTypeInfo(t)!.Properties).Select(p => p.Name).Where(n => n[0] != '$').ToList();

    internal static InputException Wrong(string path, byte[] bytes, JsonException e)
    {
        if (e.Message.Contains("could not be mapped", StringComparison.Ordinal))
        {
            var name = e.Message.Split('\'')[1];
            var at = e.Path is { } p && p.EndsWith(name, StringComparison.Ordinal) ? p : $"{e.Path ?? "$"}.{name}";
            var known = FieldsOf(e.Message);
            var hint = known.Count == 0 ? "" : $" Did you mean '{Spelling.Nearest(name, known)}'? There are {string.Join(", ", known)}.";
            return new(path, TextPosition.OfPath(bytes, at), $"unknown field '{name}'.{hint}");
        }
        if (e.InnerException is not null || e.Message.Contains("could not be converted", StringComparison.Ordinal))
            return new(path, TextPosition.OfPath(bytes, e.Path ?? "$"),
                $"the value of '{e.Path}' is not of the right type. The schema in docs/schemas says which it must be.");
        return InputException.Malformed(path, e);
    }
}
