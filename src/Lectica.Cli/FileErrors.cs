using Lectica.Input;
using Lectica.Testing;

namespace Lectica.Cli;

/// <summary>What is wrong with a JSON file, told by the line and column of the field that it is about.</summary>
/// <param name="path">The file's path.</param>
/// <param name="bytes">What is in it.</param>
internal sealed class FileErrors(string path, byte[] bytes)
{
    public TextPosition PositionOf(string field) => TextPosition.OfPath(bytes, "$." + field);

    public InputException Error(string field, string problem) => new(path, PositionOf(field), problem);

    public InputException Unknown(string field, string value, IEnumerable<string> known) =>
        Error(field, $"'{value}' is not known here: use {string.Join(", ", known)}.");

    /// <summary>Reads a key chord.</summary>
    /// <param name="text">The chord.</param>
    /// <param name="field">The field that it is in.</param>
    /// <exception cref="InputException">It is not a chord.</exception>
    public KeyChord ChordOf(string text, string field)
    {
        try
        {
            return KeyChord.Parse(text);
        }
        catch (FormatException e)
        {
            throw Error(field, e.Message);
        }
    }
}
