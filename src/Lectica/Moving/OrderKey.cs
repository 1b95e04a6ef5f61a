using Lectica.Items;

namespace Lectica.Moving;

/// <summary>
/// Keys for an order that is stored with the items: texts of the digits 0–9, A–Z and a–z, between any two of which there is always another,
/// so that storing a move writes the moved items alone. Compared ordinally they stand as the items do. It is what is known as fractional
/// indexing: a key is the digits of a fraction to base 62, and never ends with 0.
/// <para>To append costs a digit now and then, and to insert again and again just after or just before the last one does too: the digits
/// after the place where the two neighbours differ count in groups of 1, 2, 4, 8 … digits, each as a number, so that n such keys are of
/// O(log n) digits; so are keys inserted at random. Insertions that go from one side to the other of the last one in turn add a digit each
/// few: <see cref="Spread"/> gives new keys when they have become long.</para>
/// </summary>
public static class OrderKey
{
    private const string Digits = "0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz";
    private const int Base = 62;

    /// <summary>A key between two others; before all where there is no lower one, after all where there is no upper one.</summary>
    /// <exception cref="ArgumentException">A key is empty, ends with 0, has another character than a digit, or the lower one is not below
    /// the upper one.</exception>
    public static string Between(string? lower, string? upper)
    {
        Check(lower, nameof(lower));
        Check(upper, nameof(upper));
        if (lower is not null && upper is not null && string.CompareOrdinal(lower, upper) >= 0)
            throw new ArgumentException($"The key '{lower}' is not below '{upper}': there is nothing between them.", nameof(lower));
        if (upper is null) return lower is null ? "V" : Above(lower);
        if (lower is null) return Below(upper);
        var same = 0;
        while (same < lower.Length && lower[same] == upper[same]) same++;
        var prefix = upper[..same];
        // The lower one is the beginning of the upper one: below the rest of that.
        if (same == lower.Length) return prefix + Below(upper[same..]);
        int low = Value(lower[same]), high = Value(upper[same]);
        return high - low > 1 ? prefix + Digits[(low + high) / 2] : prefix + lower[same] + Above(lower[(same + 1)..]);
    }

    /// <summary>So many keys between two others, in order, evenly.</summary>
    /// <exception cref="ArgumentException">As for one key.</exception>
    /// <exception cref="ArgumentOutOfRangeException">The count is negative.</exception>
    public static IReadOnlyList<string> Between(string? lower, string? upper, int count)
    {
        ArgumentOutOfRangeException.ThrowIfNegative(count);
        if (lower is null && upper is null) return Spread(count);
        var keys = new string[count];
        void Fill(int from, int to, string? low, string? high)
        {
            if (from >= to) return;
            var middle = (from + to) / 2;
            keys[middle] = Between(low, high);
            Fill(from, middle, low, keys[middle]);
            Fill(middle + 1, to, keys[middle], high);
        }
        Fill(0, count, lower, upper);
        return keys;
    }

    /// <summary>
    /// So many keys evenly over all that there are, as short as they can be: for a whole list, at first and when its keys have become long.
    /// </summary>
    /// <exception cref="ArgumentOutOfRangeException">The count is negative.</exception>
    public static IReadOnlyList<string> Spread(int count)
    {
        ArgumentOutOfRangeException.ThrowIfNegative(count);
        var width = 1;
        long all = Base;
        // Half of the room stays free beside each.
        for (; all < 2L * (count + 1); width++) all *= Base;
        var keys = new string[count];
        var text = new char[width];
        for (var i = 0; i < count; i++)
        {
            var value = (long)((Int128)all * (i + 1) / (count + 1));
            for (var d = width - 1; d >= 0; d--, value /= Base) text[d] = Digits[(int)(value % Base)];
            keys[i] = new string(text).TrimEnd('0');
        }
        return keys;
    }

    /// <summary>
    /// The keys to write so that the items at these places are stored where they are: each goes between its neighbours. Only they are
    /// written, unless a neighbour's own key is missing, or not where it should be, since that item has not been stored yet either; then it
    /// is written too.
    /// </summary>
    /// <param name="places">Where the items are now, out of all.</param>
    /// <param name="keyAt">The key that the item at an index is stored under; null or empty for none.</param>
    /// <returns>Indexes, from the top, with their keys. Cost: the number of items written.</returns>
    /// <exception cref="ArgumentException">A neighbour's key is none: it ends with 0, or has another character than a digit.</exception>
    public static IReadOnlyList<KeyValuePair<int, string>> For(ItemSet places, Func<int, string?> keyAt)
    {
        ArgumentNullException.ThrowIfNull(places);
        ArgumentNullException.ThrowIfNull(keyAt);
        var written = new SortedDictionary<int, string>();
        string? Known(int index) =>
            written.TryGetValue(index, out var key) ? key : !places.Contains(index) && keyAt(index) is { Length: > 0 } stored ? stored
            : null;
        bool IsAbove(int index, int other) => Known(index) is { } key && Known(other) is { } below && string.CompareOrdinal(key, below) < 0;
        for (var first = places.NextAt(0); first >= 0;)
        {
            var end = first + 1;
            while (end < places.Universe && places.Contains(end)) end++;
            // What the neighbours' keys leave no room between, they are in the way of: the one that is out of order on its other side
            // first, else in turn.
            var (from, to, isUpNext) = (first, end, false);
            while ((from > 0 && Known(from - 1) is null) || (to < places.Universe && Known(to) is null)
                || (from > 0 && to < places.Universe && !IsAbove(from - 1, to)))
            {
                if (from > 0 && Known(from - 1) is null) from--;
                else if (to < places.Universe && Known(to) is null) to++;
                else if (from > 1 && !IsAbove(from - 2, from - 1)) from--;
                else if (to + 1 < places.Universe && !IsAbove(to, to + 1)) to++;
                else if (isUpNext = !isUpNext) from--;
                else to++;
            }
            var keys = Between(from > 0 ? Known(from - 1) : null, to < places.Universe ? Known(to) : null, to - from);
            for (var i = from; i < to; i++) written[i] = keys[i - from];
            first = places.NextAt(to);
        }
        return [.. written];
    }

    /// <summary>
    /// A text above another one, whatever follows that: the first group of digits that is not full, one higher, and no more.
    /// </summary>
    private static string Above(string text)
    {
        for (int at = 0, size = 1; ; at += size, size *= 2)
        {
            var group = Group(text, at, size);
            // Fresh ground: from its middle.
            if (at >= text.Length) return text + (size == 1 ? "V" : new string('0', size - 1) + '1');
            if (group.All(d => d == Base - 1)) continue;
            do Shift(group, 1);
            while (group[^1] == 0 && group.Any(d => d < Base - 1));
            return text[..Math.Min(at, text.Length)] + Text(group);
        }
    }

    /// <summary>A text below another one and above nothing: the first group of digits that is not empty, one lower.</summary>
    private static string Below(string text)
    {
        for (int at = 0, size = 1; ; at += size, size *= 2)
        {
            var group = Group(text, at, size);
            if (group.All(d => d == 0)) continue;
            do Shift(group, -1);
            while (group[^1] == 0 && group.Any(d => d > 0));
            // Below the lowest of a group are those that begin with no digit of it: the highest of the next group.
            return group.All(d => d == 0) ? new string('0', at + size) + new string('z', 2 * size) : text[..at] + Text(group);
        }
    }

    private static int[] Group(string text, int at, int size) =>
        [.. Enumerable.Range(at, size).Select(i => i < text.Length ? Value(text[i]) : 0)];

    private static void Shift(int[] group, int by)
    {
        for (var i = group.Length - 1; i >= 0; i--)
        {
            group[i] += by;
            if (group[i] is >= 0 and < Base) return;
            group[i] = by > 0 ? 0 : Base - 1;
        }
    }

    private static string Text(int[] group) => string.Concat(group.Select(d => Digits[d])).TrimEnd('0');

    private static int Value(char digit) => digit <= '9' ? digit - '0' : digit <= 'Z' ? digit - 'A' + 10 : digit - 'a' + 36;

    private static void Check(string? key, string name)
    {
        if (key is null) return;
        if (key.Length == 0) throw new ArgumentException("An order key is not empty; null stands for no neighbour.", name);
        if (key.FirstOrDefault(c => !char.IsAsciiLetterOrDigit(c)) is var wrong && wrong != '\0')
            throw new ArgumentException($"The order key '{key}' has the character '{wrong}': it is made of 0–9, A–Z and a–z.", name);
        if (key[^1] == '0') throw new ArgumentException($"The order key '{key}' ends with 0: there would be nothing below it.", name);
    }
}
