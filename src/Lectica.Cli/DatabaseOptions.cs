using System.CommandLine;
using Lectica.Testing;

namespace Lectica.Cli;

/// <summary>The options by which a command takes its rows from a database.</summary>
internal sealed class DatabaseOptions
{
    private readonly Option<string?> _database = new("--rows")
    {
        Description =
            "A SQLite database to take the rows from, as they come into view; then LIST is a list file without rows, or left out.",
        HelpName = "FILE",
    };
    private readonly Option<string?> _table = new("--table") { Description = "Of the database: the table or view.", HelpName = "NAME" };
    private readonly Option<string?> _query = new("--query") { Description = "Of the database: a query, for a table.", HelpName = "SQL" };
    private readonly Option<string?> _key = new("--key")
    {
        Description = "Of the database: the field that is the key; id or key where not given.",
        HelpName = "FIELD",
    };
    private readonly Option<string?> _order = new("--order")
    {
        Description = "Of the database: the fields that it is in the order of, with commas between them and - before those that go down.",
        HelpName = "FIELDS",
    };
    private readonly Option<bool>? _write;

    /// <summary>Gives a command the options.</summary>
    /// <param name="command">The command.</param>
    /// <param name="mayWrite">Whether it can be told to write.</param>
    public DatabaseOptions(Command command, bool mayWrite)
    {
        foreach (var option in (Option[])[_database, _table, _query, _key, _order]) command.Add(option);
        if (mayWrite)
            command.Add(_write = new("--write")
            {
                Description =
                    "Of the database: writes marks (to the field that 'onWhen' names), moves (to the field of --order) and what 'remove' " +
                    "removes. Without it, it is opened read-only.",
            });
    }

    /// <summary>Refuses a command that has neither a list nor a database.</summary>
    public void Require(Command command, Func<System.CommandLine.Parsing.CommandResult, string?> list, string name) =>
        command.Validators.Add(result =>
    {
        if (list(result) is null && result.GetValue(_database) is null)
            result.AddError($"{name} is required, or '--rows' with a database.");
    });

    /// <summary>Opens the list that was asked for.</summary>
    public ListFile Open(ParseResult parsed, string? list, Progress progress)
    {
        var (database, table, query, key,
            order) = (parsed.GetValue(_database), parsed.GetValue(_table), parsed.GetValue(_query), parsed.GetValue(_key),
            parsed.GetValue(_order));
        var writes = _write is not null && parsed.GetValue(_write);
        if (database is not null)
            return ListFile.Load(
                list, DatabaseRows.Open(
                    new(database, table, query, key,
                        order?.Split(',', StringSplitOptions.RemoveEmptyEntries | StringSplitOptions.TrimEntries) ?? [], writes)), database,
                            progress);
        if ((table ?? query ?? key ?? order) is not null || writes)
            throw new InputException(
                "--rows", null, "--table, --query, --key, --order and --write are about a database: name it by --rows.");
        return ListFile.Load(list!, progress);
    }
}
