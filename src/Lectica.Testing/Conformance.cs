using System.Collections.Immutable;
using Lectica.Input;
using Lectica.Layout;
using Lectica.Tracing;

namespace Lectica.Testing;

/// <summary>A host that shows a list, as a conformance run sees it: it is opened, played on, and asked what the list made of it.</summary>
public interface IConformingHost
{
    /// <summary>Shows the list again, as it is at first, and gives it the keyboard.</summary>
    Task Open();

    /// <summary>
    /// Plays a script with real input of the host's platform: pointers of the type that the script says, and keys. Origins that name rows
    /// are the elements or places that the host draws for them.
    /// </summary>
    Task Play(ActionScript script);

    /// <summary>The acts of the list's trace since it was opened, and then its state line.</summary>
    Task<ScriptOutcome> Outcome();
}

/// <summary>What a list made of a script.</summary>
public sealed class ScriptOutcome(IReadOnlyList<TracedAct> acts, TracedState state)
{
    /// <summary>The acts of its trace, refused ones too.</summary>
    public IReadOnlyList<TracedAct> Acts { get; } = acts;

    /// <summary>The list at the end.</summary>
    public TracedState State { get; } = state;
}

/// <summary>What became of one script on a host.</summary>
/// <param name="Script">The script's name.</param>
/// <param name="Difference">How the host's list differs from one played without a host, or null where it does not.</param>
public sealed record ConformanceResult(string Script, string? Difference);

/// <summary>
/// Whether a host does what any host must: the same scripts, gesture by pointer type and key by key, are played on a list by itself and on
/// the host, and must give the same acts and the same state. The list shows at least eight items, from the top, and may have boxes, marks,
/// handles, trays, a menu, levels and moves, and lie in rows or tiles: there is a script for what it has. Scripts keep wide margins from
/// all thresholds, since hosts and drivers are late at times.
/// </summary>
public sealed class Conformance<TItem, TKey> where TKey : notnull
{
    private const int Step = 20;
    private readonly Func<InteractiveList<TItem, TKey>> _open;
    private readonly string[] _keys;
    private readonly RowParts _parts;
    private readonly bool _moves, _hasMenu;
    private readonly string? _branch;
    private readonly bool _isStrip;

    // How long a swipe is compared with one over a row: half way between half the tray and the arming line, where a tray is two thirds of
    // the height.
    private readonly double _swipe;
    private readonly ImmutableArray<(string Id, bool IsLeading)> _trays;

    /// <summary>A run over a list.</summary>
    /// <param name="open">Makes the list that the host shows: the same each time.</param>
    /// <exception cref="ArgumentException">It shows fewer than eight items.</exception>
    public Conformance(Func<InteractiveList<TItem, TKey>> open)
    {
        ArgumentNullException.ThrowIfNull(open);
        _open = open;
        using var list = open();
        _keys = [.. list.Frame.Rows.Where(r => r.Index >= 0 && !r.IsDisabled).Select(r => list.KeyTextAt(r.Index)).Take(8)];
        if (_keys.Length < 8)
            throw new ArgumentException($"The list shows {_keys.Length} enabled items; a conformance run needs eight.", nameof(open));
        _branch = list.Frame.Rows.FirstOrDefault(r => r.Branch is { IsExpanded: true } && !r.IsDisabled)?.KeyText;
        _parts = list.Parts;
        _moves = list.Options.MayMove;
        _isStrip = list.Options.Layout is Strip;
        _swipe = _isStrip ? list.Viewport.Height / 288 : 1;
        // Tiles have none.
        _trays = list.Options.Layout is Tiles ? []
            : [.. list.Commands.Where(c => (c.ShowIn & (Commands.ShowIn.LeadingTray | Commands.ShowIn.TrailingTray)) != 0)
            .Select(c => (c.Id, c.ShowIn.HasFlag(Commands.ShowIn.LeadingTray)))];
        _hasMenu = !list.Commands.IsEmpty;
    }

    /// <summary>The scripts, by name.</summary>
    public IEnumerable<ActionScript> Scripts
    {
        get
        {
            foreach (var type in (PointerType[])[PointerType.Mouse, PointerType.Pen, PointerType.Touch])
                foreach (var (name, actions, modifier) in ByPointer(type))
                    yield return Script($"{type.ToString().ToLowerInvariant()}: {name}", type, actions, modifier);
            foreach (var (name, chords) in ByKey()) yield return Keys("keys: " + name, chords);
        }
    }

    private IEnumerable<(string Name, IEnumerable<SourceAction> Actions, string? Modifier)> ByPointer(PointerType type)
    {
        string Row(int i) => "row:" + _keys[i];
        yield return ("tap", Tap(Row(1)), null);
        yield return ("taps on two rows", [.. Tap(Row(1)), Pause(900), .. Tap(Row(3))], null);
        yield return ("double tap", [.. Tap(Row(2)), Down, Up], null);
        yield return ("a press that strays a little", [At(Row(2)), Down, By(2, 1), Pause(Step), By(-1, 1), Pause(Step), Up], null);
        if (_parts.Check) yield return ("tap on the box", [.. Tap("check:" + _keys[4]), Pause(900), .. Tap("check:" + _keys[2])], null);
        if (_branch is not null)
        {
            yield return ("tap on the expander", [.. Tap("expander:" + _branch), Pause(900), .. Tap("expander:" + _branch)], null);
            if (_parts.Check) yield return ("tap on a branch's box", Tap("check:" + _branch), null);
            if (_parts.Handle && _moves)
                yield return ("drag to another level", [At("handle:" + _keys[1]), Down, .. Glide(0, 110), .. Glide(-40, 0), Pause(60), Up],
                    null);
        }
        foreach (var mark in _parts.Marks) yield return ($"tap on the mark {mark}", Tap($"mark:{mark}:{_keys[3]}"), null);
        if (_parts.Handle && _moves)
        {
            yield return ("drag down by the handle", Drag("handle:" + _keys[1], 0, 130), null);
            yield return ("drag up by the handle", Drag("handle:" + _keys[5], 0, -130), null);
            yield return ("drag by the handle and back", [At("handle:" + _keys[3]), Down, .. Glide(0, 90), .. Glide(0, -90), Pause(60), Up],
                null);
        }
        if (type != PointerType.Touch)
        {
            yield return ("tap with Mod", [.. Tap(Row(4))], "Control");
            yield return ("tap with Shift", [.. Tap(Row(4))], "Shift");
            if (_moves) yield return ("drag the row", Drag(Row(1), 0, 130), null);
            if (type == PointerType.Mouse && _hasMenu)
                yield return ("secondary tap", [At(Row(2)), Down with { Button = 2 }, Pause(60), Up with { Button = 2 }], null);
            yield break;
        }
        yield return ("pan", [At(Row(_isStrip ? 1 : 5)), Down, .. _isStrip ? Glide(-90, 0) : Glide(0, -120), Pause(60), Up], null);
        if (_hasMenu) yield return ("long press", [At(Row(2)), Down, Pause(900), Up], null);
        if (_hasMenu)
            yield return ("long press, then a tap outside the menu", [At(Row(0)), Down, Pause(900), Up, Pause(600), .. Tap(Row(7))], null);
        if (_moves) yield return ("hold and drag", [At(Row(1)), Down, Pause(900), .. Glide(0, 130), Pause(60), Up], null);
        foreach (var leading in (bool[])[true, false])
        {
            if (_trays.FirstOrDefault(t => t.IsLeading == leading).Id is not { } id) continue;
            int way = leading ? 1 : -1;
            var edge = leading ? "leading" : "trailing";
            yield return ($"swipe the {edge} tray open", Swipe(Row(2), 120 * way), null);
            yield return ($"swipe the {edge} tray a little and back",
                [At(Row(2)), Down, .. Along(70 * way), .. Along(-66 * way), Pause(200), Up], null);
            yield return ($"swipe through at the {edge} edge", Swipe(Row(3), (_isStrip ? 175 : 270) * way, -130 * way), null);
            yield return ($"tap on the {edge} tray", [.. Swipe(Row(2), 120 * way), Pause(700), .. Tap($"tray:{id}:{_keys[2]}")], null);
            yield return ($"tap outside the {edge} tray", [.. Swipe(Row(2), 120 * way), Pause(700), .. Tap(Row(5))], null);
        }
    }

    private IEnumerable<(string Name, string[] Chords)> ByKey()
    {
        yield return ("down", ["ArrowDown", "ArrowDown"]);
        yield return ("extend", ["ArrowDown", "Shift+ArrowDown", "Shift+ArrowDown", "Shift+ArrowUp"]);
        yield return ("end and home", ["End", "Home"]);
        yield return ("pages", ["PageDown", "PageUp"]);
        yield return ("the cursor alone", ["Control+ArrowDown", "Control+ArrowDown", "Control+Space"]);
        yield return ("all, and none", ["Control+a", "Escape"]);
        yield return ("left and right", ["ArrowDown", "ArrowRight", "ArrowRight", "ArrowLeft", "ArrowLeft"]);
        if (_moves) yield return ("carried", ["ArrowDown", "Alt+Enter", "ArrowDown", "ArrowDown", "ArrowRight", "ArrowLeft", "Enter"]);
        yield return ("activate", ["ArrowDown", "Enter"]);
        if (_hasMenu) yield return ("menu", ["ArrowDown", "Shift+F10", "ArrowDown", "Escape"]);
        if (!_moves) yield break;
        yield return ("move down and up", ["ArrowDown", "Alt+ArrowDown", "Alt+ArrowDown", "Alt+ArrowUp"]);
        yield return ("take up, choose, drop", ["ArrowDown", "Alt+Enter", "ArrowDown", "ArrowDown", "Enter"]);
        yield return ("take up and put back", ["ArrowDown", "Alt+Enter", "ArrowDown", "Escape"]);
        yield return ("move and take back", ["ArrowDown", "Alt+ArrowDown", "Control+z"]);
    }

    /// <summary>Plays all scripts on a host, one after the other.</summary>
    public async Task<IReadOnlyList<ConformanceResult>> Run(IConformingHost host)
    {
        ArgumentNullException.ThrowIfNull(host);
        var results = new List<ConformanceResult>();
        foreach (var script in Scripts) results.Add(new(script.File, await Run(host, script)));
        return results;
    }

    /// <summary>Plays one script; gives how the host's list differs, or null.</summary>
    public async Task<string?> Run(IConformingHost host, ActionScript script)
    {
        ArgumentNullException.ThrowIfNull(host);
        await host.Open();
        await host.Play(script);
        ScriptOutcome shown = await host.Outcome(), alone = Play(script);
        string[] got = [.. shown.Acts.Select(Words)], wanted = [.. alone.Acts.Select(Words)];
        if (!got.SequenceEqual(wanted)) return $"the acts are {string.Join("; ", got)}, without the host {string.Join("; ", wanted)}";
        string state = shown.State.ToJson(), wantedState = alone.State.ToJson();
        return state == wantedState ? null : $"the state is {state}, without the host {wantedState}";
    }

    /// <summary>The acts and the state that a script gives on the list by itself.</summary>
    public ScriptOutcome Play(ActionScript script)
    {
        using var list = _open();
        list.Focus();
        var player = new ListPlayer<TItem, TKey>(list);
        player.Play(script);
        player.Wait(1500);
        return new([.. player.Trace.OfType<TracedAct>()], list.StateLine());
    }

    private static string Words(TracedAct act) =>
        $"{act.Act}{(act.Key is null ? "" : " " + act.Key)}{(act.Refused is null ? "" : $" ({act.Refused})")}";

    private static SourceAction Down => new("pointerDown", default);

    private static SourceAction Up => new("pointerUp", default);

    private static SourceAction Pause(double duration) => new("pause", default) { Duration = duration };

    private static SourceAction At(string origin) => new("pointerMove", default) { Origin = origin };

    private static SourceAction By(double x, double y) => new("pointerMove", default) { Origin = "pointer", X = x, Y = y };

    // No pause: drivers take their time by themselves, and a late one must not be a long press.
    private static SourceAction[] Tap(string origin) => [At(origin), Down, Up];

    // A driver makes no moves between: a way is many short ones, a frame or so each. The first one passes every tolerance, so that a late
    // driver is not holding still.
    private static IEnumerable<SourceAction> Glide(double x, double y)
    {
        var steps = (int)Math.Ceiling(Math.Max(Math.Abs(x), Math.Abs(y)) / 16);
        for (var i = 0; i < steps; i++)
        {
            yield return By(
                Math.Round(x * (i + 1) / steps) - Math.Round(x * i / steps), Math.Round(y * (i + 1) / steps) - Math.Round(y * i / steps));
            yield return Pause(Step);
        }
    }

    private static SourceAction[] Drag(string from, double x, double y) => [At(from), Down, .. Glide(x, y), Pause(60), Up];

    private SourceAction[] Swipe(string row, double way, double from = 0)
    {
        // In a strip below the parts, which are at the top of an item.
        return [_isStrip ? At(row) with { Y = Math.Sign(way) * -_swipe * 48 } : At(row) with { X = from == 0 ? -way / 2 : from }, Down,
            .. Along(way), Pause(200), Up];
    }

    // The way that a row is swiped.
    private IEnumerable<SourceAction> Along(double way) => _isStrip ? Glide(0, _swipe * way) : Glide(_swipe * way, 0);

    private static ActionScript Script(string name, PointerType type, IEnumerable<SourceAction> actions, string? modifier)
    {
        ImmutableArray<SourceAction> pointer = [.. actions];
        if (modifier is null) return new(name, [new("pointer", "pointer", type, pointer)]);
        var key = WebDriverKeys.ValueOf(modifier);
        return new(name,
        [
            new("key", "keys", default,
                [new("keyDown", default) { Value = key }, .. pointer.Select(_ => Pause(0)), new("keyUp", default) { Value = key }]),
            new("pointer", "pointer", type, [Pause(0), .. pointer]),
        ]);
    }

    private static ActionScript Keys(string name, string[] chords)
    {
        var actions = ImmutableArray.CreateBuilder<SourceAction>();
        foreach (var chord in chords)
        {
            string[] keys = [.. chord.Split('+').Select(k => k == "Space" ? " " : WebDriverKeys.ValueOf(k))];
            foreach (var key in keys) actions.Add(new("keyDown", default) { Value = key });
            foreach (var key in keys.Reverse()) actions.Add(new("keyUp", default) { Value = key });
            actions.Add(Pause(60));
        }
        return new(name, [new("key", "keys", default, actions.ToImmutable())]);
    }
}
