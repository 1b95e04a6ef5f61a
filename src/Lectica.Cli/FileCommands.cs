using System.Globalization;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Testing;

namespace Lectica.Cli;

/// <summary>The commands of a list file, which the tool does to the rows of one list as an app would.</summary>
/// <param name="file">The list file.</param>
/// <param name="errors">What to say of its mistakes.</param>
/// <param name="list">The list.</param>
/// <param name="rows">Its rows; empty where they are in a database.</param>
/// <param name="fields">The names of the rows' fields.</param>
/// <param name="database">The database that the rows are in, or null.</param>
/// <param name="stored">The rows in it, or null.</param>
internal sealed class FileCommands(ListFileJson file, FileErrors errors, InteractiveList<Row, string> list, List<Row> rows,
    IReadOnlyList<string> fields, DatabaseRows? database, DatabaseRows.Rows? stored)
{
    /// <summary>Reads a command.</summary>
    /// <param name="json">The command.</param>
    /// <param name="place">The field that it is in.</param>
    /// <exception cref="InputException">It cannot be; the message says where and what would be right.</exception>
    public Command<Row, string> Read(CommandJson json, string place)
    {
        var id = json.Id is { Length: > 0 } given ? given : throw errors.Error(place, "a command needs an id.");
        var shows = ShowIn.None;
        foreach (var where in json.Shows ?? ["menu"])
            shows |= where switch
            {
                "menu" => ShowIn.Menu,
                "leading" => ShowIn.LeadingTray,
                "trailing" => ShowIn.TrailingTray,
                "toolbar" => ShowIn.Toolbar,
                _ => throw errors.Unknown(place + ".shows", where, ["menu", "leading", "trailing", "toolbar"]),
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
                var other => throw errors.Unknown(place + ".role", other, ["neutral", "positive", "warning", "destructive"]),
            },
            Group = json.Group ?? "",
            Submenu = json.Submenu,
            SubmenuIcon = json.SubmenuIcon,
            Order = json.Order,
            Priority = json.Priority,
            ShowIn = shows,
            SwipesThrough = json.SwipesThrough,
            Chords = [.. (json.Chords ?? []).Select(text => errors.ChordOf(text, place + ".chords"))],
            Notice = json.Notice is { } notice
                ? target => notice.Replace("{n}", target.Count.ToString(CultureInfo.InvariantCulture), StringComparison.Ordinal) : null,
        };
        Dictionary<string, (Row Row, int Place)[]> taken = [];
        return json.Does switch
        {
            // The app is only told.
            null or "nothing" => command with { Do = _ => { } },
            "remove" or "top" or "duplicate" or "add" when database is { MayWrite: false } =>
                throw errors.Error(place + ".does",
                $"'{json.Does}' changes the rows, and the database is opened read-only: play it with --write."),
            "top" or "duplicate" or "add" when database is not null =>
                throw errors.Error(place + ".does",
                $"'{json.Does}' is nothing that the tool can do with rows of a database: use nothing, remove, or toggle:MARK."),
            "remove" when stored is not null => command with { Do = target => stored.Remove(target.Condition) },
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
                    rows.Insert(0, new(key, [.. fields.Select(field => field == file.Key ? key : "new")]));
                    list.Show(rows);
                },
            },
            _ when json.Does.StartsWith("toggle:", StringComparison.Ordinal) && (file.Marks ?? []).Any(m => m.Name == json.Does[7..]) =>
                command with
                {
                    Do = target => _ = list.IsPaged && target.Count > 1 ? list.ToggleMark(json.Does[7..])
                        : list.ToggleMarkOf(json.Does[7..], target),
                },
            var other => throw errors.Error(
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
}
