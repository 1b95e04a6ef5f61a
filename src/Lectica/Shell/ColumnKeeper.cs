using System.Collections.Immutable;
using System.Runtime.InteropServices;
using Lectica.Acts;
using Lectica.Items;
using Lectica.Layout;
using Lectica.States;

namespace Lectica.Shell;

/// <summary>The columns of a list: what they say, and the keyboard on their headers.</summary>
internal sealed class ColumnKeeper<TItem, TKey>(
    Core core, ItemStore<TItem, TKey> store, ColumnSorter<TItem, TKey> sorter, Actor actor, Scroller scroller) where TKey : notnull
{
    private ImmutableArray<Column<TItem>> _columns = [];

    public ImmutableArray<Column<TItem>> Columns => _columns;

    public Table Table => core.State.Table;

    public void Set(ImmutableArray<Column<TItem>> columns)
    {
        Column<TItem>.Check(columns);
        if (!columns.IsEmpty && core.Options.Layout is not ListLayout.InRows)
            throw new ArgumentException($"Columns go with rows, and the list lies in {core.Options.Layout.GetType().Name}.");
        var sort = sorter.Declare(columns);
        _columns = columns;
        core.Commit(core.State with { Table = new([.. columns.Select(Sign)], sort), Focus = core.State.Focus with { Header = -1 } });
    }

    private static ColumnSign Sign(Column<TItem> column) =>
        new(column.Name, column.Label, column.Width, column.Share, column.AlignsEnd, column.LeastWidth);

    /// <summary>What columns say of an item.</summary>
    public ImmutableArray<string> CellsAt(int index)
    {
        var item = store.ItemAt(index);
        var cells = new string[_columns.Length];
        for (var i = 0; i < cells.Length; i++) cells[i] = core.App.Ask(_columns[i].Text, item) ?? "";
        return ImmutableCollectionsMarshal.AsImmutableArray(cells);
    }

    /// <summary>The first column's text, for a list that says nothing else of its items.</summary>
    public string LabelOf(TItem item) => core.App.Ask(_columns[0].Text, item) ?? "";

    // ── The keyboard on a header ──

    /// <summary>Takes the keyboard to the headers, where there are any.</summary>
    public bool Enter()
    {
        if (_columns.IsEmpty) return false;
        core.Commit(core.State with
        {
            Focus = core.State.Focus with { Header = Math.Max(0, Table.Sort is { } sort ? IndexOf(sort.Column) : 0) },
        });
        return true;
    }

    private int IndexOf(string column) => Table.Columns.ToList().FindIndex(c => c.Name == column);

    /// <summary>What a key does on a header; null where it is not one of the headers', which the keyboard leaves then.</summary>
    public Response? Take(Input.KeyPress press)
    {
        var at = core.State.Focus.Header;
        if (at < 0) return null;
        var key = core.Options.IsRightToLeft && press.Key is "ArrowLeft" or "ArrowRight" ? press.Key == "ArrowLeft" ? "ArrowRight"
            : "ArrowLeft" : press.Key;
        if (press.Modifiers == Input.Modifiers.None)
        {
            switch (key)
            {
                case "ArrowLeft" or "ArrowRight" or "Home" or "End":
                    var last = Table.Columns.Length - 1;
                    GoTo(key switch { "Home" => 0, "End" => last, "ArrowLeft" => Math.Max(0, at - 1), _ => Math.Min(last, at + 1) });
                    return Response.Handled;
                case "Enter" or " ":
                    return actor.Do(new Act(ActKind.SortBy, Rule: "key " + (key == " " ? "Space" : key), Text: Table.Columns[at].Name));
                case "ArrowUp":
                    return Response.Handled;
                case "ArrowDown":
                    GoTo(-1);
                    // The rows may be in another order than when the keyboard came up from them.
                    if (core.Rows.NextItemRow(new(0)) is { } first)
                    {
                        actor.Do(new Act(ActKind.MoveCursor, core.Rows.IndexAt(first), "key ArrowDown"));
                        scroller.BringIntoView(first);
                    }
                    return Response.Handled;
                case "Escape":
                    GoTo(-1);
                    return Response.Handled;
            }
        }
        GoTo(-1);
        return null;
    }

    private void GoTo(int column)
    {
        core.Commit(core.State with { Focus = core.State.Focus with { Header = column } });
        if (column >= 0) core.Announce(p => Table.Columns[column].Label);
    }
}
