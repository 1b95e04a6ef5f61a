using System.Collections.Immutable;
using Lectica.Items;

namespace Lectica.States;

/// <summary>For each mark the items that have it.</summary>
internal sealed record MarkSets(ImmutableDictionary<string, ItemSet> Sets)
{
    public static MarkSets None { get; } = new(ImmutableDictionary<string, ItemSet>.Empty);

    public MarkSets After(Edit edit) => Sets.IsEmpty ? this : new(Sets.ToImmutableDictionary(s => s.Key, s => edit.Apply(s.Value)));

    public MarkSets With(string name, ItemSet set) => new(Sets.SetItem(name, set));
}
