using System.Collections.Immutable;
using Lectica.Acts;
using Lectica.Items;
using Lectica.Layout;
using Lectica.States;
using Lectica.Tracing;

namespace Lectica.Shell;

/// <summary>
/// By which column a list is sorted. Where somebody presses a header over very many rows that takes long: it is done in slices then, and
/// the list is as it was until all is done.
/// </summary>
internal sealed class ColumnSorter<TItem, TKey>(
    Core core, Turns turns, Projection<TItem, TKey> projection, Events<TItem, TKey> events) where TKey : notnull
{
    // So many are sorted in slices, in steps of a few places.
    private const int Many = 2000, Few = 500;

    private ImmutableArray<Column<TItem>> _columns = [];

    // The order that a column gives; another one is the app's.
    private Comparison<TItem>? _own;

    private Table Table => core.State.Table;

    /// <summary>Takes over the columns; gives by which of them the list stays sorted.</summary>
    public ColumnSort? Declare(ImmutableArray<Column<TItem>> columns)
    {
        Stop();
        var sort = Table.Sort is { } now && columns.Any(c => c.Name == now.Column) ? now : null;
        if (sort is null) Order(null);
        _columns = columns;
        return sort;
    }

    /// <summary>Whether a press on a header would sort by it.</summary>
    public bool Sorts(string column) =>
        _columns.FirstOrDefault(c => c.Name == column)?.Compare is not null ? projection.WhyNoOrder is null
        : events.SortRequested is not null;

    /// <summary>The app has given the list another order: it is not a column's.</summary>
    public void OrderGiven()
    {
        Stop();
        _own = null;
        if (Table.Sort is not null) core.Commit(core.State with { Table = Table with { Sort = null } }, cause: "call");
    }

    /// <summary>Says by which column the list is sorted: by its order, or by the app's own source.</summary>
    public void SetSort(ColumnSort? sort)
    {
        if (sort is not null && _columns.All(c => c.Name != sort.Column))
            throw new ArgumentException($"There is no column '{sort.Column}'; there are {Known}.");
        Stop();
        Order(sort);
        core.Commit(core.State with { Table = Table with { Sort = sort } }, cause: "call");
    }

    private string Known => _columns.IsEmpty ? "none" : string.Join(", ", _columns.Select(c => c.Name));

    private Comparison<TItem>? OrderOf(ColumnSort sort)
    {
        var compare = _columns.First(c => c.Name == sort.Column).Compare;
        return compare is not null && sort.IsDescending ? (a, b) => compare(b, a) : compare;
    }

    private void Order(ColumnSort? sort)
    {
        var order = sort is null ? null : OrderOf(sort);
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
        var now = Table.Sorting?.Next ?? Table.Sort;
        ColumnSort? next = now?.Column != column.Name ? new(column.Name) : now.IsDescending ? null : new(column.Name, true);
        if (column.Compare is null && events.SortRequested is null)
            return core.Refuse(
                act, new(RefusalKind.NotAvailable,
                    $"The list cannot be sorted by '{column.Name}': the column has no Compare, and nothing listens to SortRequested."));
        if (column.Compare is not null && projection.WhyNoOrder is { } why) return core.Refuse(act, new(RefusalKind.NotAvailable, why));
        core.TraceAct(act);
        if (column.Compare is null) core.Out.Raise(events.SortRequested, new(next));
        else if (next is null || core.State.Count < Many)
        {
            SetSort(next);
            Tell(column, next);
        }
        else
        {
            Stop();
            // It was to be sorted by another column, and is to stay as it is.
            if (next == Table.Sort) return Response.Handled;
            var sorting = new Sorting(next, projection.Begin(OrderOf(next)!));
            core.Commit(core.State with { Table = Table with { Sorting = sorting } }, cause: "call");
            if (!GoesOnLater(sorting)) GoOn();
        }
        return Response.Handled;
    }

    private void Tell(Column<TItem> column, ColumnSort? sort)
    {
        core.Trace(() => new TracedChange
        {
            T = core.Now,
            Change = "sorted",
            Part = "column:" + column.Name,
            Reason = sort is null ? "in the source's order" : sort.IsDescending ? "down" : "up",
        });
        core.Announce(p => p.Sorted(column.Label, sort?.IsDescending));
    }

    // ── In slices ──

    /// <summary>Goes on with what waits for the host.</summary>
    public void GoOnAt(double time)
    {
        if (Table.Sorting is { } sorting && sorting.Due <= time) GoOn();
    }

    private void Stop()
    {
        if (Table.Sorting is not null) core.Commit(core.State with { Table = Table with { Sorting = null } });
    }

    // Goes on at once only where nobody would have it go on later.
    private void GoOn()
    {
        while (Table.Sorting is { } sorting)
        {
            // To show it takes a slice of its own. What is thrown in a slice is thrown when all is told: a turn that is taken back comes
            // again.
            if (sorting.Order.IsLaid || !core.App.Ask(Slice, sorting.Order, false))
            {
                if (sorting.Order.IsLaid) Finish(sorting.Next, (NextOrder<TItem, TKey>)sorting.Order);
                Stop();
            }
            else if (GoesOnLater(sorting)) return;
        }
    }

    private bool GoesOnLater(Sorting sorting) => turns.Later(
        () =>
        {
            if (Table.Sorting?.Order == sorting.Order) GoOn();
        },
        due => core.Commit(core.State with { Table = Table with { Sorting = sorting with { Due = due } } }));

    // One slice; where the app throws in it the answer is another one.
    private bool Slice(INextOrder order)
    {
        turns.Slice(() => order.Step(Few));
        return true;
    }

    private void Finish(ColumnSort sort, NextOrder<TItem, TKey> order)
    {
        // Meanwhile the list may have got a source whose order it cannot change.
        if (projection.WhyNoOrder is not null || !projection.SetOrder(order)) return;
        _own = order.Compare;
        core.Commit(core.State with { Table = Table with { Sort = sort } }, cause: "call");
        Tell(_columns.First(c => c.Name == sort.Column), sort);
    }
}
