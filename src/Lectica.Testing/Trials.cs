using Lectica.Input;
using Lectica.Layout;

namespace Lectica.Testing;

/// <summary>
/// Tries out changes of one contact after the other on a list that is brought on to where each begins, and comes back there after each
/// trial: so that what all of it costs grows with the recording and not with its square.
/// </summary>
internal sealed class Trials<TItem, TKey>(Func<InteractiveList<TItem, TKey>> open, Recording recording, IReadOnlyList<List<int>> contacts)
    where TKey : notnull
{
    private ListPlayer<TItem, TKey>? _player;
    private bool? _isStrip;
    private int _played;

    private bool IsStrip
    {
        get
        {
            if (_isStrip is { } known) return known;
            using var list = open();
            return (_isStrip = list.Options.Layout is Strip).Value;
        }
    }

    /// <summary>The smallest change that makes of a contact what it was not.</summary>
    public Remedy? Find(ContactStory story, Verdict verdict)
    {
        var at = contacts[story.Ordinal];
        var before = story.Ordinal == 0 ? [] : contacts[story.Ordinal - 1];
        var whole = new RemedySearch(
            recording, at, before, story, verdict, IsStrip, r => Explainer.Stories(Explainer.Play(open, r), r, []));
        // Without other pointers, or with ones that are down, all of it is another recording.
        if (verdict.Criterion == "one-pointer" || !CanBegin(at[0])) return whole.Find();
        var from = before.Count == 0 ? Math.Max(0, at[0] - 1) : Math.Min(before[0], at[0] - 1);
        var next = at[^1] + 1;
        while (next < recording.Inputs.Length && recording.Inputs[next] is { Key: null, Pointer: not { Kind: SampleKind.Down } }) next++;
        // With the input that comes next, whose time is when the story ends.
        var window = recording with { Inputs = recording.Inputs[from..Math.Min(next + 1, recording.Inputs.Length)] };
        var isLast = next == recording.Inputs.Length;
        IReadOnlyList<ContactStory> Try(Recording changed)
        {
            if (!CanBegin(at[0])) return [];
            var inputs = changed.Inputs.AsSpan();
            var (trace, isBack) = _player!.Try(inputs[(at[0] - from)..(next - from)], isLast ? null : inputs[^1].Time)!.Value;
            if (!isBack) Leave();
            return [.. Explainer.Stories(trace, changed, [], story.Ordinal).Take(1)];
        }
        List<int> Shifted(List<int> places) => [.. places.Select(i => i - from)];
        var search = new RemedySearch(window, Shifted(at), Shifted(before), story, verdict, IsStrip, Try);
        return search.FindWay() is { } found ? whole.RemedyOf(found.Way, found.Amount) : null;
    }

    /// <summary>Brings the list on to an input; false where a pointer is down there, or something runs.</summary>
    private bool CanBegin(int input)
    {
        if (_player is null || _played > input)
        {
            Leave();
            (_player, _played) = (ListPlayer.On(open()), 0);
        }
        if (_played < input) _player.Play(recording.Inputs.AsSpan()[_played..input], double.NegativeInfinity);
        _played = input;
        return _player.List.Shell.BranchOff() is not null;
    }

    private void Leave()
    {
        _player?.List.Dispose();
        _player = null;
    }
}
