using System.Collections.Immutable;
using Lectica.Sources;

namespace Lectica.Testing;

/// <summary>
/// A service that a paged list reads, played in memory: it answers at once, or late, in any order, not at all, or with an error, as a test
/// tells it. What it holds can be changed as if by others. It is for one thread, and needs no clock.
/// </summary>
public sealed class SimulatedSource<TItem, TKey> : IFindingSource<TItem, TKey>, IMarkingSource<TItem, TKey>, IMovingSource<TItem, TKey>
    where TKey : notnull
{
    private readonly Func<TItem, TKey> _keyOf;
    private readonly Comparison<TItem> _order;
    private readonly Func<TItem, string>? _sectionOf;
    private readonly List<Waiting> _waiting = [];
    private List<TItem> _items;

    private sealed record Waiting(string What, Action Answer, Action<Exception> Fail, CancellationToken Cancellation);

    /// <param name="items">The items, in any order.</param>
    /// <param name="keyOf">The key of an item.</param>
    /// <param name="order">The order, total: no two items compare equal.</param>
    /// <param name="sectionOf">The section of an item; the sections lie in the order one after the other. Null for none.</param>
    public SimulatedSource(
        IEnumerable<TItem> items, Func<TItem, TKey> keyOf, Comparison<TItem> order, Func<TItem, string>? sectionOf = null)
    {
        (_keyOf, _order, _sectionOf) = (keyOf, order, sectionOf);
        _items = [.. items.Order(Comparer<TItem>.Create(order))];
    }

    /// <summary>The items as they are now, in order, whether the filter lets them through or not.</summary>
    public IReadOnlyList<TItem> Items => _items;

    /// <summary>Which items it lets show; all where null. Another one is told like a change.</summary>
    public Func<TItem, bool>? Filter
    {
        get;
        set
        {
            field = value;
            Changed?.Invoke(this, EventArgs.Empty);
        }
    }

    private List<TItem> Shown => Filter is { } filter ? _items.FindAll(i => filter(i)) : _items;

    /// <summary>Whether questions wait until they are answered by <see cref="Answer"/>; else they are answered at once.</summary>
    public bool IsSlow { get; set; }

    /// <summary>Whether it says how many items there are.</summary>
    public bool TellsCount { get; set; } = true;

    /// <summary>Whether a late answer is as of when it was asked for; else as of when it is given.</summary>
    public bool AnswersAsAsked { get; set; }

    /// <summary>What the next questions fail with, one after the other; null for one that is answered.</summary>
    public Queue<Exception?> Failures { get; } = new();

    /// <summary>How many questions wait.</summary>
    public int WaitingCount => _waiting.Count(w => !w.Cancellation.IsCancellationRequested);

    /// <summary>All questions so far, such as <c>200+100</c> for a stretch, <c>count</c>, <c>places</c>.</summary>
    public IReadOnlyList<string> Asked => _asked;

    private readonly List<string> _asked = [];

    /// <summary>How many questions were taken back before they were answered.</summary>
    public int CancelledCount { get; private set; }

    /// <summary>How many items it has given in all.</summary>
    public int GivenCount { get; private set; }

    /// <summary>Stores a mark, given the item, the mark's name and whether it is on: gives the item as it is then.</summary>
    public Func<TItem, string, bool, TItem>? Marked { get; set; }

    /// <summary>Puts an item between two others: gives the item as it is then.</summary>
    public Func<TItem, Box<TItem>?, Box<TItem>?, string?, TItem>? Placed { get; set; }

    /// <summary>The text of an item that is found by how it begins; its <c>ToString()</c> where null.</summary>
    public Func<TItem, string>? TextOf { get; set; }

    /// <inheritdoc/>
    public event EventHandler? Changed;

    /// <summary>Changes the items, as others would, and says so.</summary>
    /// <param name="change">Gives the items as they are then.</param>
    /// <param name="says">Whether it says so.</param>
    public void Change(Func<IReadOnlyList<TItem>, IEnumerable<TItem>> change, bool says = true)
    {
        ArgumentNullException.ThrowIfNull(change);
        _items = [.. change(_items).Order(Comparer<TItem>.Create(_order))];
        if (says) Changed?.Invoke(this, EventArgs.Empty);
    }

    /// <summary>Answers one of the questions that wait.</summary>
    /// <param name="which">Which one, from 0 on in the order in which they were asked.</param>
    public void Answer(int which = 0)
    {
        var waiting = _waiting[which];
        _waiting.RemoveAt(which);
        if (Failures.TryDequeue(out var failure) && failure is not null) waiting.Fail(failure);
        else waiting.Answer();
    }

    /// <summary>Answers all that wait, and what is asked then, until nothing does.</summary>
    public void AnswerAll()
    {
        while (_waiting.Count > 0) Answer();
    }

    private Task<T> Give<T>(string what, Func<T> answer, CancellationToken cancellation)
    {
        _asked.Add(what);
        if (!IsSlow)
            return Failures.TryDequeue(out var failure) && failure is not null ? Task.FromException<T>(failure) : Task.FromResult(answer());
        var source = new TaskCompletionSource<T>();
        var now = AnswersAsAsked ? answer() : default;
        var waiting =
            new Waiting(what, () => source.TrySetResult(AnswersAsAsked ? now! : answer()), e => source.TrySetException(e), cancellation);
        _waiting.Add(waiting);
        cancellation.Register(() =>
        {
            if (!_waiting.Remove(waiting)) return;
            CancelledCount++;
            source.TrySetCanceled(cancellation);
        });
        return source.Task;
    }

    /// <inheritdoc/>
    public Task<PageAnswer<TItem>> AskAsync(PageQuestion<TItem, TKey> question, CancellationToken cancellation)
    {
        ArgumentNullException.ThrowIfNull(question);
        var what = question.Counts ? question.Stretches.IsEmpty ? "count" : "places"
            : string.Join(",", question.Stretches.Select(s => $"{s.Start}+{s.Count}"));
        return Give(what, () => AnswerTo(question), cancellation);
    }

    private PageAnswer<TItem> AnswerTo(PageQuestion<TItem, TKey> question)
    {
        var items = Shown;
        Page<TItem> Read(Stretch<TItem> stretch)
        {
            var start = Math.Max(0, stretch.Start + (stretch.Around is { } around ? Before(items, around.Item) : 0));
            Page<TItem> page = new(start, [.. items.Skip(start).Take(stretch.Count)]);
            GivenCount += page.Items.Count;
            return page;
        }
        var places = question.Keys.IsEmpty ? null
            : items.Select((item, i) => (Key: _keyOf(item), Index: i)).ToDictionary(p => p.Key, p => p.Index);
        return new()
        {
            Pages = [.. question.Stretches.Select(Read)],
            Count = question.Counts && TellsCount ? items.Count : null,
            Sections = question.Counts && TellsCount && _sectionOf is not null ? [.. SectionsOf(items)] : [],
            Bounds = [.. question.Bounds.Select(b => Before(items, b)).Zip(
                question.Bounds, (at, b) => new BoundSpan(at, at < items.Count && _order(items[at], b) == 0 ? at + 1 : at))],
            Indexes = [.. question.Keys.Select(k => places!.TryGetValue(k, out var at) ? (int?)at : -1)],
            Scope = Filter,
        };
    }

    private IEnumerable<SourceSection> SectionsOf(List<TItem> items) =>
        items.GroupBy(_sectionOf!).Select(g => new SourceSection(g.Key, g.Count()));

    private int Before(List<TItem> items, TItem item)
    {
        var at = items.BinarySearch(item, Comparer<TItem>.Create(_order));
        return at < 0 ? ~at : at;
    }

    /// <summary>The items that meet a condition now.</summary>
    public IEnumerable<TItem> Where(Condition<TItem, TKey> condition)
    {
        ArgumentNullException.ThrowIfNull(condition);
        var shows = (Func<TItem, bool>?)condition.Scope;
        return _items.Where(i => shows?.Invoke(i) != false && condition.Means(i, _keyOf(i), _order, _sectionOf));
    }

    /// <inheritdoc/>
    public Task<IReadOnlyList<TItem>> ReadAsync(
        Condition<TItem, TKey> condition, Box<TItem>? after, int count, CancellationToken cancellation) =>
        Give<IReadOnlyList<TItem>>(
        "items", () => [.. Where(condition).Where(i => after is null || _order(i, after.Item) > 0).Take(count)], cancellation);

    /// <inheritdoc/>
    public Task<int> CountAsync(Condition<TItem, TKey> condition, CancellationToken cancellation) =>
        Give("count of some", () => Where(condition).Count(), cancellation);

    /// <inheritdoc/>
    public Task<int> FindAsync(string beginning, int from, CancellationToken cancellation) => Give("find", () =>
    {
        var items = Shown;
        for (var i = 0; i < items.Count; i++)
        {
            var at = (from + i) % items.Count;
            if ((TextOf?.Invoke(items[at]) ?? items[at]?.ToString() ?? "").StartsWith(
                beginning, StringComparison.CurrentCultureIgnoreCase)) return at;
        }
        return -1;
    }, cancellation);

    /// <inheritdoc/>
    public int MostTakenBack { get; set; } = int.MaxValue;

    /// <inheritdoc/>
    public Task<SourceChange> MarkAsync(string mark, Condition<TItem, TKey> condition, bool value, CancellationToken cancellation) =>
        Give("mark", () =>
    {
        var before = _items;
        HashSet<TKey> keys = [.. Where(condition).Select(_keyOf)];
        List<TItem> now = [.. _items.Select(i => keys.Contains(_keyOf(i)) ? Marked!(i, mark, value) : i)];
        return Store(before, now, keys.Count);
    }, cancellation);

    /// <inheritdoc/>
    public Task<SourceChange> MoveAsync(IReadOnlyList<TItem> items, Box<TItem>? above, Box<TItem>? below, string? section,
        CancellationToken cancellation) => Give("move", () =>
    {
        var before = _items;
        var placed = new Dictionary<TKey, TItem>();
        var over = above;
        foreach (var item in items) placed[_keyOf(item)] = (over = new(Placed!(item, over, below, section))).Item;
        return Store(before, [.. _items.Select(i => placed.GetValueOrDefault(_keyOf(i), i))], items.Count);
    }, cancellation);

    // Taken back for just those that it changed.
    private SourceChange Store(List<TItem> before, List<TItem> now, int count)
    {
        var olds = before.ToDictionary(_keyOf);
        Dictionary<TKey, (TItem Old, TItem New)> changed = [];
        foreach (var item in now)
            if (!EqualityComparer<TItem>.Default.Equals(item, olds[_keyOf(item)])) changed[_keyOf(item)] = (olds[_keyOf(item)], item);
        Change(_ => now);
        Task Put(Func<(TItem Old, TItem New), TItem> which)
        {
            Change(items => items.Select(i => changed.TryGetValue(_keyOf(i), out var both) ? which(both) : i));
            return Task.CompletedTask;
        }
        return new(count, _ => Put(c => c.Old), _ => Put(c => c.New));
    }
}
