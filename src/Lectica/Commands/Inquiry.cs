namespace Lectica.Commands;

/// <summary>What is asked about: a command, or a mark that is put on or off.</summary>
/// <param name="Target">What it would be done to.</param>
/// <param name="Question">The question.</param>
/// <param name="Command">The command, if it is one.</param>
/// <param name="Mark">The mark's name, if it is one.</param>
internal sealed record Inquiry<TItem, TKey>(
    CommandTarget<TItem, TKey> Target, string Question, Command<TItem, TKey>? Command = null, string? Mark = null);
