using System.Collections.Immutable;
using Lectica.Items;
using Lectica.Sources;

namespace Lectica.Shell;

/// <summary>
/// Whether a source's answer fits the question. One that does not is a read that failed, with a message that says what was asked and what
/// came: the list believes nothing of it.
/// </summary>
internal static class AnswerCheck
{
    /// <summary>As many stretches as were asked for.</summary>
    /// <exception cref="SourceAnswerException">There are others.</exception>
    public static void Stretches<TItem, TKey>(PageQuestion<TItem, TKey> question, PageAnswer<TItem> answer)
    {
        if (answer.Pages.Length != question.Stretches.Length)
            throw new SourceAnswerException($"It was asked for {question.Stretches.Length} stretches and answered {answer.Pages.Length}.");
    }

    /// <summary>Sections that have all items together, each with a key of its own.</summary>
    /// <exception cref="SourceAnswerException">They do not.</exception>
    public static void Sections(int count, ImmutableArray<SourceSection> sections)
    {
        if (sections.IsDefaultOrEmpty) return;
        var sum = sections.Sum(s => (long)s.Count);
        if (sum != count) throw new SourceAnswerException($"Its sections have {sum} items together, and it has {count}.");
        if (sections.Select(s => s.Key).Distinct().Count() != sections.Length)
            throw new SourceAnswerException("It has two sections with one key.");
    }

    /// <summary>A stretch from where it was asked for, and no longer.</summary>
    /// <exception cref="SourceAnswerException">It is another one.</exception>
    public static void Page<TItem>(Stretch<TItem> wanted, Page<TItem> page)
    {
        if (page.Start != wanted.Start)
            throw new SourceAnswerException($"It was asked for the stretch from {wanted.Start} on and answered one from {page.Start} on.");
        if (page.Items.Count > wanted.Count)
            throw new SourceAnswerException(
                $"It was asked for {wanted.Count} items from {page.Start} on and answered {page.Items.Count}.");
    }

    /// <summary>A stretch inside what there is, as long as it can be, and a place for each thing that was named.</summary>
    /// <exception cref="SourceAnswerException">It is not so.</exception>
    public static void Places<TItem, TKey>(PageQuestion<TItem, TKey> question, PageAnswer<TItem> answer, Page<TItem> page, int count)
    {
        if (page.Start < 0 || page.Start + page.Items.Count > count)
            throw new SourceAnswerException(
                $"It has {count} items, and gave those from {page.Start} to {page.Start + page.Items.Count - 1}.");
        var expected = Math.Min(question.Stretches[0].Count, count - page.Start);
        if (page.Items.Count != expected)
            throw new SourceAnswerException(
                $"It has {count} items, and gave {page.Items.Count} of the {expected} from {page.Start} on.");
        Named(question, answer);
    }

    /// <summary>A place for each thing that was named.</summary>
    /// <exception cref="SourceAnswerException">There are others.</exception>
    public static void Named<TItem, TKey>(PageQuestion<TItem, TKey> question, PageAnswer<TItem> answer)
    {
        if (answer.Bounds.Length != question.Bounds.Length || answer.Indexes.Length != question.Keys.Length)
            throw new SourceAnswerException(
                $"It was asked for {question.Bounds.Length} bounds and {question.Keys.Length} keys, and " +
                    $"answered {answer.Bounds.Length} and {answer.Indexes.Length}.");
    }
}
