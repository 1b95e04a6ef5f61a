using System.Collections.Immutable;
using System.Runtime.InteropServices;
using Lectica.Acts;
using Lectica.Items;
using Lectica.Layout;
using Lectica.States;
using Lectica.Tracing;

namespace Lectica.Shell;

/// <summary>The columns of a list: what they say, by which it is sorted, and the keyboard on their headers.</summary>
internal sealed class ColumnKeeper<TItem, TKey>(Core core, ItemStore<TItem, TKey> store, Projection<TItem, TKey> projection, Actor actor,
    Scroller scroller, Events<TItem, TKey> events) where TKey : notnull
{
    private ImmutableArray<Column<TItem>> _columns = [];

    // The order that a column gives; another one is the app's.
    private Comparison<TItem>? _own;

    public ImmutableArray<Column<TItem>> Columns => _columns;

    public Table Table => core.State.Table;

    public void Set(ImmutableArray<Column<TItem>> columns)
    {
        Column<TItem>.Check(columns);
        if (!columns.IsEmpty && core.Options.Layout is not ListLayout.InRows)
            throw new ArgumentException($"Columns go with rows, and the list lies in {core.Options.Layout.GetType().Name}.");
        var sort = Table.Sort is { } now && columns.Any(c => c.Name == now.Column) ? Table.Sort : null;
        if (sort is null) Order(null);
        _columns = columns;
        core.Commit(core.State with { Table = new([.. columns.Select(Sign)], sort), Focus = core.State.Focus with { Header = -1 } });
    }

    private static ColumnSign Sign(Column<TItem> column) =>
        new(column.Name, column.Label, column.Width, column.Share, column.AlignsEnd, column.LeastWidth);

    /// <summary>Whether a press on a header would sort by it.</summary>
    public bool Sorts(string column) =>
        _columns.FirstOrDefault(c => c.Name == column)?.Compare is not null ? projection.WhyNoOrder is null
        : events.SortRequested is not null;

    /// <summary>The app has given the list another order: it is not a column's.</summary>
    public void OrderGiven()
    {
        _own = null;
        if (Table.Sort is not null) core.Commit(core.State with { Table = Table with { Sort = null } }, cause: "call");
    }

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

    /// <summary>Says by which column the list is sorted: by its order, or by the app's own source.</summary>
    public void SetSort(ColumnSort? sort)
    {
        if (sort is not null && _columns.All(c => c.Name != sort.Column))
            throw new ArgumentException($"There is no column '{sort.Column}'; there are {Known}.");
        Order(sort);
        core.Commit(core.State with { Table = Table with { Sort = sort } }, cause: "call");
    }

    private string Known => _columns.IsEmpty ? "none" : string.Join(", ", _columns.Select(c => c.Name));

    private void Order(ColumnSort? sort)
    {
        var compare = sort is null ? null : _columns.First(c => c.Name == sort.Column).Compare;
        Comparison<TItem>? order = compare is null ? null : sort!.IsDescending ? (a, b) => compare(b, a) : compare;
        // An order that the app has given is taken away only by another one.
        if (order is null && (_own is null || projection.SortBy != _own)) return;
        projection.SetOrder(order);
        _own = order;
    }

    /// <summary>Sorts by a column: up, down, and then not.</summary>
    public Response Sort(Act act)
    {
        if (_columns.FirstOrDefault(c => c.Name == act.Text) is not { } column)
            return core.Refuse(act, new(RefusalKind.OutsideList, $"There is no column '{act.Text}'; there are {Known}."));
        ColumnSort? next = Table.Sort?.Column != column.Name ? new(column.Name) : Table.Sort.IsDescending ? null : new(column.Name, true);
        if (column.Compare is null && events.SortRequested is null)
            return core.Refuse(
                act, new(RefusalKind.NotAvailable,
                    $"The list cannot be sorted by '{column.Name}': the column has no Compare, and nothing listens to SortRequested."));
        if (column.Compare is not null && projection.WhyNoOrder is { } why) return core.Refuse(act, new(RefusalKind.NotAvailable, why));
        core.TraceAct(act);
        if (column.Compare is null)
        {
            core.Out.Raise(events.SortRequested, new(next));
            return Response.Handled;
        }
        SetSort(next);
        core.Trace(() => new TracedChange
        {
            T = core.Now,
            Change = "sorted",
            Part = "column:" + column.Name,
            Reason = next is null ? "in the source's order" : next.IsDescending ? "down" : "up",
        });
        core.Announce(p => p.Sorted(column.Label, next?.IsDescending));
        return Response.Handled;
    }

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
