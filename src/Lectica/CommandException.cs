namespace Lectica;

/// <summary>A command threw an exception, and nobody listened to <c>CommandFailed</c>.</summary>
public sealed class CommandException(string id, string? key, Exception error)
    : Exception($"The command '{id}' threw{(key is null ? "" : $" on the item '{key}'")}: {error?.Message} The list is usable; listen to " +
    "CommandFailed to be told instead.", error);
