using System.Collections.Immutable;
using Lectica.Acts;

namespace Lectica.Commands;

/// <summary>One entry of a menu.</summary>
/// <param name="Id">The command's id; of a submenu its label.</param>
/// <param name="Label">What it says.</param>
public sealed record MenuEntry(string Id, string Label)
{
    /// <summary>Whether both say the same, with the same entries below them.</summary>
    public bool Equals(MenuEntry? other) =>
        other is not null
        && (Id, Label, Icon, Role, IsEnabled) == (other.Id, other.Label, other.Icon, other.Role, other.IsEnabled)
        && (IsChecked, Keys, BeginsGroup, IsBusy, Progress)
            == (other.IsChecked, other.Keys, other.BeginsGroup, other.IsBusy, other.Progress)
        && Entries.AsSpan().SequenceEqual(other.Entries.AsSpan());

    /// <inheritdoc/>
    public override int GetHashCode() => HashCode.Combine(Id, Label, Entries.Length);

    /// <summary>The name of its icon, or null.</summary>
    public string? Icon { get; init; }

    /// <summary>What kind of thing it does.</summary>
    public CommandRole Role { get; init; }

    /// <summary>Whether it can be chosen. One that cannot is still shown, and the keys stop on it.</summary>
    public bool IsEnabled { get; init; } = true;

    /// <summary>Whether it has a check mark; null where it never has.</summary>
    public bool? IsChecked { get; init; }

    /// <summary>The keys that do the same, as they are written.</summary>
    public string? Keys { get; init; }

    /// <summary>Whether a line stands above it.</summary>
    public bool BeginsGroup { get; init; }

    /// <summary>Whether the command is under way; then choosing it asks it to stop, and the label says so.</summary>
    public bool IsBusy { get; init; }

    /// <summary>How much of it is done, from 0 to 1; null where it is not under way, or that is not known.</summary>
    public double? Progress { get; init; }

    /// <summary>The entries of its submenu; empty where it is a command.</summary>
    public ImmutableArray<MenuEntry> Entries { get; init; } = [];
}
