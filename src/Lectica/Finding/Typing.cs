using System.Globalization;

namespace Lectica.Finding;

/// <summary>
/// Characters typed to find an item by. They gather until <see cref="Pause"/> ms pass without one. One character, or the same one again,
/// goes to the next match after the cursor; more characters search from the cursor on.
/// </summary>
/// <param name="Text">What has gathered.</param>
/// <param name="LastTime">When the last character came, ms.</param>
internal sealed record Typing(string Text, double LastTime)
{
    /// <summary>How long characters gather, ms.</summary>
    public const double Pause = 1000;

    /// <summary>Nothing typed.</summary>
    public static Typing None { get; } = new("", double.NegativeInfinity);

    /// <summary>Whether characters are still gathering.</summary>
    public bool IsGathering(double time) => Text.Length > 0 && time - LastTime < Pause;

    /// <summary>With one more character; leading spaces do not count.</summary>
    public Typing With(string character, double time)
    {
        var text = IsGathering(time) ? Text + character : character;
        return new(text.TrimStart(), time);
    }

    /// <summary>What is searched for, and whether the search begins after the cursor's row rather than on it.</summary>
    public (string Prefix, bool After) Query
    {
        get
        {
            var elements = new StringInfo(Text);
            var first = elements.LengthInTextElements == 0 ? "" : elements.SubstringByTextElements(0, 1);
            for (var i = 1; i < elements.LengthInTextElements; i++)
                if (elements.SubstringByTextElements(i, 1) != first) return (Text, false);
            return (first, true);
        }
    }
}
