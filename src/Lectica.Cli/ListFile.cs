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

/// <summary>A list file, read and checked, of which lists can be made.</summary>
internal sealed class ListFile
{
    private readonly ListFileJson _json;
    private readonly string _path;
    private readonly FileErrors _errors;
    private readonly RowTable _table;
    private readonly List<Row> _rows = [];
    private readonly ListOptions _options;
    private readonly Template? _label, _detail, _picture, _search;
    private readonly Func<Row, bool>? _shown, _disabled;

    private ListFile(string path, byte[] bytes, ListFileJson json, RowTable table, Progress progress)
    {
        (_path, _errors, _json, _table) = (path, new(path, bytes), json, table);
        var keyField = json.Key is { } key ? table.FieldAt(key, path, () => _errors.PositionOf("key")) : -1;
        ReadKeys(keyField, progress);
        _label = Read(json.Label, "label") ?? DefaultLabel(keyField);
        _detail = Read(json.Detail, "detail");
        _picture = Read(json.Picture, "picture");
        _search = Read(json.Search, "search");
        _shown = Test(json.ShowWhen, "showWhen");
        var disabled = Test(json.DisabledWhen, "disabledWhen");
        _disabled = disabled is null ? null : row => disabled(row);
        _options = new FileOptions(json, _errors).Read();
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

        var json = ListFileJson.Read(path, bytes, document.RootElement);
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
                throw _errors.Error($"marks[{i}]",
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
        var json = ListFileJson.Read(path, bytes, document.RootElement);
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
                    ? new InputException(_table.File, _table.PlaceOf(at), e.Message) : _errors.Error("outline", e.Message);
            }
        }
        Arrange(list, rows);
        if (_json.Selected is { } selected)
        {
            if (selected.FirstOrDefault(k => list.IndexOf(k) < 0) is { } absent)
                throw _errors.Error("selected", $"there is no row '{absent}' to select.");
            if (list.SelectOnly(ItemSet.Of(list.Count, selected.Select(list.IndexOf))).Refusal is { } refusal)
                throw _errors.Error("selected", refusal.Reason);
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
            field.Value = _rows.Find(r => r.Key == first) ?? throw _errors.Error("selected", $"there is no row '{first}' to select.");
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
        : Template.Parse(text, field => _table.FieldAt(field, _path, () => _errors.PositionOf(name)),
            problem => _errors.Error(name, problem));

    private Func<Row, bool>? Test(Dictionary<string, JsonElement>? conditions, string name)
    {
        if (conditions is null) return null;
        var tests = new List<(int Field, HashSet<string> Values)>();
        foreach (var (field, values) in conditions)
        {
            HashSet<string> allowed = values.ValueKind == JsonValueKind.Array ? [.. values.EnumerateArray().Select(v => v.ToString())]
                : [values.ToString()];
            tests.Add((_table.FieldAt(field, _path, () => _errors.PositionOf($"{name}.{field}")), allowed));
        }
        return row => tests.TrueForAll(t => t.Values.Contains(row.Values[t.Field]));
    }

    /// <summary>Gives a list the file's marks and commands; what they do is done to <paramref name="rows"/>.</summary>
    private void Arrange(InteractiveList<Row, string> list, List<Row> rows)
    {
        var marks = new List<Mark<Row>>();
        foreach (var (mark, i) in (_json.Marks ?? []).Select((m, i) => (m, i)))
        {
            var name = mark.Name is { Length: > 0 } given ? given : throw _errors.Error($"marks[{i}]", "a mark needs a name.");
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
                    var other => throw _errors.Unknown($"marks[{i}].look", other, ["ring", "star", "flag", "tick"]),
                },
                Icon = mark.Icon,
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
            var commands = new FileCommands(_json, _errors, list, rows, _table.Fields, _database, _stored);
            list.Commands = [.. (_json.Commands ?? []).Select((c, i) => commands.Read(c, $"commands[{i}]"))];
        }
        catch (ArgumentException e)
        {
            throw _errors.Error(e.Message.Contains("marks have", StringComparison.Ordinal) ? "marks" : "commands", e.Message);
        }
    }

    private void SetLevels(InteractiveList<Row, string> list)
    {
        if (_json.Outline is not { } outline) return;
        foreach (var (name,
            isThere) in ((string, bool)[])[("sections", _json.Sections is not null), ("sortBy", _json.SortBy is not null),
            ("tiles", _json.Tiles is not null), ("strip", _json.Strip is not null)])
            if (isThere) throw _errors.Error("outline", $"an outline does not go with '{name}': leave one of them out.");
        if (outline.Open < 1) throw _errors.Error("outline.open", $"at least one level is open, not {outline.Open}.");
        var field = _table.FieldAt(outline.Parent ?? throw _errors.Error(
            "outline", "an outline needs 'parent': the field that has the key of the row which a row lies below."), _path,
                () => _errors.PositionOf("outline.parent"));
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
            throw _errors.Error("columns",
                $"columns go with rows: leave '{(_json.Strip is null ? "tiles" : "strip")}' out, or the columns.");
        try
        {
            list.Columns = [.. columns.Select((column, i) =>
            {
                var name = column.Field ?? throw _errors.Error($"columns[{i}]", "a column needs 'field': what it shows of a row.");
                var at = _table.FieldAt(name, _path, () => _errors.PositionOf($"columns[{i}].field"));
                return new Column<Row>(name, column.Label ?? name, row => row.Values[at])
                {
                    Width = column.Width,
                    Share = column.Share,
                    LeastWidth = column.LeastWidth,
                    AlignsEnd = column.Align switch
                    {
                        null or "start" => false,
                        "end" => true,
                        var other => throw _errors.Unknown($"columns[{i}].align", other, ["start", "end"]),
                    },
                    Compare = column.Sorts ? (a, b) => Compare(a.Values[at], b.Values[at]) : null,
                };
            })];
        }
        catch (ArgumentException e)
        {
            throw _errors.Error("columns", e.Message);
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
            var field = _table.FieldAt(down ? sort[1..] : sort, _path, () => _errors.PositionOf("sortBy"));
            list.SortBy = (a, b) => (down ? -1 : 1) * Compare(a.Values[field], b.Values[field]);
        }
        if (_json.Sections is not { } sections) return;
        Func<Row, string> of;
        Action<Row, string> assign;
        if (sections.By is { } by && by.StartsWith("mark:", StringComparison.Ordinal))
        {
            var mark = list.Marks.FirstOrDefault(m => m.Name == by[5..])
                ?? throw _errors.Error("sections.by", $"there is no mark '{by[5..]}' in the list.");
            of = row => mark.Get!(row) ? "on" : "off";
            assign = (row, key) => mark.Set!(row, key == "on");
        }
        else
        {
            var field = _table.FieldAt(sections.By ?? throw _errors.Error(
                "sections", "sections need 'by': a field, or mark:NAME for those with a mark (on) and without (off)."), _path,
                    () => _errors.PositionOf("sections.by"));
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
            if (list.CollapseOrExpand(key).Refusal is { } refusal) throw _errors.Error("sections.collapsed", refusal.Reason);
    }

    // Numbers by their value, other texts as they stand.
    private static int Compare(string a, string b) =>
        double.TryParse(a, CultureInfo.InvariantCulture, out var one) && double.TryParse(b, CultureInfo.InvariantCulture, out var other)
        ? one.CompareTo(other) : string.CompareOrdinal(a, b);
}
