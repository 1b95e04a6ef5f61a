using System.Globalization;
using System.Text;
using CsCheck;
using Lectica.Acts;
using Lectica.Gestures;
using Lectica.Input;
using Lectica.Layout;
using Lectica.Tests.House;

namespace Lectica.Tests.Lists;

/// <summary>What the tables say, all of it, as a text that is read; and what makes a rule one that cannot work.</summary>
public sealed class RuleTests
{
    [Fact]
    public void All_acts_gestures_keys_and_reserved_chords_are_as_written_down()
    {
        var file = Repository.At("tests", "Lectica.Tests", "Lists", "tables.md");
        var made = Tables();
        if (Environment.GetEnvironmentVariable("LECTICA_DOCS") is not null) File.WriteAllText(file, made);
        Assert.Equal(File.ReadAllText(file), made);
    }

    private static string Tables()
    {
        var text = new StringBuilder("# What the shipped tables say\n\nMade by RuleTests with LECTICA_DOCS=1, to be read when it " +
            "changes.\n\n## Acts\n\n");
        foreach (var act in ActTraits.All)
        {
            List<string> traits = [act.Sources == 0 ? "typed" : $"{act.Sources}".ToLowerInvariant()];
            if (act.NeedsItem) traits.Add("needs an item");
            if (act.TakesUnread) traits.Add("also one not read");
            if (act.NeedsDirection) traits.Add("needs a direction");
            if (act.GoesOn) traits.Add("begun by " + string.Join(" or ", act.BegunBy));
            if (act.On is { } on) traits.Add("on " + on);
            if (act.Names is { } names) traits.Add("names " + names);
            text.Append(CultureInfo.InvariantCulture, $"- {act.Name}: {string.Join("; ", traits)}\n");
        }
        text.Append("\n## Gestures\n\n");
        foreach (var rule in GestureTable.Default.Rules)
            text.Append(CultureInfo.InvariantCulture,
                $"- {rule.Name}: {(rule.AnyModifiers ? "any+" : $"{rule.Modifiers}")}{rule.Gesture} by {rule.Pointers} on {rule.On},\n" +
                    $"  {rule.When?.Name ?? "always"}: {Acts(rule.Acts)}\n");
        foreach (var (name, of) in new (string, Func<KeyTable, KeyTable>)[] { ("", t => t), (" in tiles", t =>
            t.InTiles()), (" in a strip", t => t.InStrip()) })
            foreach (var table in KeyTable.All)
            {
                var keys = of(table);
                text.Append(CultureInfo.InvariantCulture,
                    $"\n## Keys: {keys.Name}{name}\n\nMoving selects: {keys.MovingSelects}. Finds by typing: {keys.FindsByTyping}.\n\n");
                foreach (var rule in keys.Rules)
                    text.Append(CultureInfo.InvariantCulture,
                        $"- {rule.Chord}: {Acts(rule.Acts)} {rule.Direction}, {rule.When?.Name ?? "always"}\n");
            }
        text.Append("\n## In force\n\nIn the modes none, single, single required and multiple: always (a), at times (t), never (-). " +
            "First where " +
            "items move,\nlie in levels and Space marks, then where they do not.\n");
        foreach (var table in KeyTable.All)
        {
            text.Append(CultureInfo.InvariantCulture, $"\n{table.Name}\n\n");
            var states = (from all in (bool[])[true, false]
                          from mode in Enum.GetValues<SelectionMode>()
                          select table.InForce(SelectionPolicy.For(mode), ModKey.Ctrl, all, all, all).ToList()).ToList();
            foreach (var rule in table.Rules)
            {
                var letters = states.Select(s => s.FirstOrDefault(r => ReferenceEquals(r.Rule, rule)) is { Rule: not null } found
                    ? found.Always ? 'a' : 't' : '-');
                text.Append(CultureInfo.InvariantCulture, $"- {string.Concat(letters)} {rule.Chord} {Acts(rule.Acts)}, " +
                    $"{rule.When?.Name ?? "always"}\n");
            }
        }
        text.Append("\n## Conflicts\n\n");
        foreach (var table in KeyTable.All.Append(KeyTable.Grid.With(new(new("PageUp", Modifiers.Ctrl), [ActKind.Clear, ActKind.Undo]))
            .With(new(new("Enter"), [ActKind.Clear, ActKind.Undo]))))
            foreach (var mode in Enum.GetValues<SelectionMode>())
                foreach (var mod in Enum.GetValues<ModKey>())
                    foreach (var (rule, reason) in table.Conflicts(mode, mod))
                        text.Append(CultureInfo.InvariantCulture,
                            $"- {table.Name}, {mode}, {mod}: {rule.Chord} {Acts(rule.Acts)}, {rule.When?.Name ?? "always"}: {reason}\n");
        text.Append("\n## Kept by the platform\n\n");
        string[] keysOf = [.. Enumerable.Range('A', 26).Select(c => $"{(char)c}"), .. Enumerable.Range(1, 12).Select(i =>
            $"F{i}"), "Tab", "Space", "Enter",
            "Escape", "Home", "End", "PageUp", "PageDown", "ArrowUp", "ArrowDown", "ArrowLeft", "ArrowRight"];
        foreach (var mod in Enum.GetValues<ModKey>())
            foreach (var key in keysOf)
                for (var modifiers = 0; modifiers < 16; modifiers++)
                    if (new KeyChord(key, (Modifiers)modifiers) is var chord && ReservedChords.Reason(chord, mod) is { } reason)
                        text.Append(CultureInfo.InvariantCulture, $"- {chord}, where Mod is {mod}: {reason}\n");
        return text.ToString();

        static string Acts(IEnumerable<ActKind> acts) => string.Join(", ", acts.Select(ActNames.Of)) is { Length: > 0 } names ? names
            : "nothing";
    }

    [Fact]
    public void Acts_are_found_by_name()
    {
        Assert.Equal(Enum.GetValues<ActKind>().Order(), ActTraits.All.Select(t => t.Kind).Order());
        foreach (var kind in Enum.GetValues<ActKind>()) Assert.Equal(kind, ActNames.Find(ActNames.Of(kind)));
        Assert.Equal((null, "select-all", 48), (ActNames.Find("selectall"), ActNames.Of(ActKind.SelectAll), ActNames.All.Count));
        Assert.Equal(("move-part", true, false, false, true), (new Act(ActKind.MovePart).Name, new Act(ActKind.Select).NeedsItem,
            new Act(ActKind.Clear).NeedsItem, new Act(ActKind.Select).GoesOn, new Act(ActKind.Sweep).GoesOn));
    }

    [Fact]
    public void Each_area_and_pointer_has_the_set_of_its_name()
    {
        foreach (var part in Enum.GetValues<PartKind>()) Assert.Equal(Enum.Parse<HitAreas>($"{part}"), Sets.Of(part));
        foreach (var type in Enum.GetValues<PointerType>()) Assert.Equal(Enum.Parse<Pointers>($"{type}"), Sets.Of(type));
        Assert.Equal(HitAreas.EmptySpace, Sets.Of((PartKind?)null));
        Assert.Contains("no such part of a row", Assert.Throws<ArgumentOutOfRangeException>(() => Sets.Of((PartKind)99)).Message);
        Assert.Equal(Enum.GetValues<HitAreas>().Where(a => a is not (HitAreas.Tray or HitAreas.MenuEntry or HitAreas.OutsideTray)),
            Enum.GetValues<HitAreas>().Where(a => a != HitAreas.OutsideTray && (HitAreas.OutsideTray & a) != 0));
    }

    // What the words of each condition mean.
    private static readonly Dictionary<string, Func<Situation, bool>> Meanings = new()
    {
        ["while selecting"] = s => s.IsSelecting,
        ["while selecting, where that can end"] = s => s.IsSelecting && !s.AlwaysSelecting,
        ["mode none"] = s => s.Policy.Mode == SelectionMode.None,
        ["mode single"] = s => s.Policy.Mode is SelectionMode.Single or SelectionMode.SingleRequired,
        ["mode multiple"] = s => s.Policy.Mode == SelectionMode.Multiple,
        ["mode single or multiple"] = s => s.Policy.Mode != SelectionMode.None,
        ["mode single or multiple, but not in a check list"] = s => s.Policy.Mode != SelectionMode.None && !s.AlwaysSelecting,
        ["mode none or multiple"] = s => s.Policy.Mode is SelectionMode.None or SelectionMode.Multiple,
        ["with a selection"] = s => s.HasSelection,
        ["with trays"] = s => s.HasTrays,
        ["with a tray open"] = s => s.IsTrayOpen,
        ["with a menu open"] = s => s.IsMenuOpen,
        ["where menus show"] = s => s.HasMenus,
        ["mode single or multiple, where menus show"] = s => s.HasMenus && s.Policy.Mode != SelectionMode.None,
        ["while dragging"] = s => s.IsDragging,
        ["while carrying"] = s => s.IsCarrying,
        ["while carrying in an outline"] = s => s.IsCarrying && s.IsOutline,
        ["in an outline"] = s => s.IsOutline,
        ["in an outline, mode multiple"] = s => s.IsOutline && s.Policy.Mode == SelectionMode.Multiple,
        ["in an outline, mode multiple, unless typing"] = s => s.IsOutline && s.Policy.Mode == SelectionMode.Multiple && !s.IsTyping,
        ["where items may move"] = s => s.MayMove,
        ["where items may move in an outline"] = s => s.MayMove && s.IsOutline,
        ["where a long press opens the menu"] = s => s.LongPress == LongPressMeaning.Menu && s.HasMenus,
        ["where a long press starts selecting"] = s => s.LongPress == LongPressMeaning.StartSelecting
            && s.Policy.Mode == SelectionMode.Multiple,
        ["where a long press grabs"] = s => s.LongPress == LongPressMeaning.Grab && s.MayMove,
        ["where a pull reads again"] = s => s.Pulls,
        ["in a check list"] = s => s.AlwaysSelecting,
        ["where loading failed"] = s => s.HasFailed,
        ["with a selection that may be cleared"] = s => s.HasSelection && s.Policy.Mode != SelectionMode.SingleRequired,
        ["unless typing"] = s => !s.IsTyping,
        ["where Space marks, unless typing"] = s => s.SpaceMarks && !s.IsTyping,
        ["with something to take back"] = s => s.CanUndo,
        ["with something to do again"] = s => s.CanRedo,
        ["where items are copied"] = s => s.Copies,
        ["where items are cut"] = s => s.Cuts,
        ["where something is taken"] = s => s.Pastes,
    };

    private static readonly Gen<Situation> Situations = Gen.Select(Gen.Int[0, (1 << 20) - 1], Gen.Int[0, 3], Gen.Int[0, 3]).Select((bits,
        mode, press) =>
    {
        bool Bit(int at) => (bits >> at & 1) == 1;
        return new Situation
        {
            Policy = SelectionPolicy.For((SelectionMode)mode),
            LongPress = (LongPressMeaning)press,
            IsSelecting = Bit(0),
            HasSelection = Bit(1),
            IsTyping = Bit(2),
            AlwaysSelecting = Bit(3),
            MayMove = Bit(4),
            HasTrays = Bit(5),
            HasFailed = Bit(6),
            HasMenus = Bit(7),
            Pulls = Bit(8),
            Copies = Bit(9),
            Cuts = Bit(10),
            Pastes = Bit(11),
            CanUndo = Bit(12),
            CanRedo = Bit(13),
            SpaceMarks = Bit(14),
            IsTrayOpen = Bit(15) && Bit(9),
            IsMenuOpen = Bit(16) && Bit(10),
            IsDragging = Bit(17),
            IsCarrying = Bit(18) && Bit(11),
            IsOutline = Bit(19),
        };
    });

    private static Modifiers ResolveOf(KeyChord chord, ModKey mod) =>
        chord.Modifiers | (!chord.Mod ? 0 : mod == ModKey.Meta ? Modifiers.Meta : Modifiers.Ctrl);

    [Fact]
    public void Conditions_hold_where_their_words_say_so_and_the_first_rule_that_fits_is_taken()
    {
        RuleCondition[] conditions = [.. KeyTable.All.SelectMany(t => t.Rules).Select(r => r.When)
            .Concat(GestureTable.Default.Rules.Select(r => r.When)).OfType<RuleCondition>().Distinct()];
        Assert.Equal(Meanings.Keys.Order(), conditions.Select(c => $"{c}").Distinct().Order());
        var (held, gestures, keys) = (new HashSet<string>(), new HashSet<string>(), new HashSet<string>());
        var chords = KeyTable.All.SelectMany(t => t.Rules).Select(r => r.Chord).Distinct().ToArray();
        // What each gesture rule asks for: every second case is about one of them, so that none is met by luck alone.
        var aims = GestureTable.Default.Rules.SelectMany(r => Enum.GetValues<PointerType>()
            .Where(p => r.Pointers.HasFlag(Enum.Parse<Pointers>($"{p}"))).SelectMany(p => Enum.GetValues<HitAreas>()
            .Where(on => int.PopCount((int)on) == 1 && r.On.HasFlag(on)).Select(on => (Rule: r, Pointer: p, On: on)))).ToArray();
        Gen.Select(Situations, Gen.Int[0, int.MaxValue], Gen.Enum<GestureKind>(), Gen.Enum<PointerType>(), Gen.Enum<PartKind>(),
            Gen.Int[0, 5], Gen.Enum<ModKey>())
            .Sample((situation, number, kind, pointer, part, place, mod) =>
            {
                var isEmpty = place == 0;
                var aim = number % 2 == 0 ? aims[number / 2 % aims.Length] : default;
                foreach (var condition in conditions)
                {
                    var holds = Meanings[condition.Name](situation);
                    Assert.True(holds == condition.Holds(situation), $"{condition} in {situation}");
                    lock (held) held.Add($"{condition} {holds}");
                }
                var modifiers = (number % 5) switch
                {
                    0 => Modifiers.Shift,
                    1 => Modifiers.Ctrl,
                    2 => Modifiers.Meta,
                    3 => Modifiers.Shift | Modifiers.Ctrl,
                    _ => Modifiers.None,
                };
                if (aim.Rule is { } rather)
                {
                    (kind, pointer, isEmpty) = (rather.Gesture, aim.Pointer, aim.On == HitAreas.EmptySpace);
                    if (!isEmpty) part = Enum.Parse<PartKind>($"{aim.On}");
                    if (!rather.AnyModifiers) modifiers = ResolveOf(rather.Modifiers, mod);
                }
                var rule = GestureTable.Default.Find(kind, pointer, isEmpty ? null : new Part(part), modifiers, situation, mod);
                var wanted = GestureTable.Default.Rules.FirstOrDefault(r =>
                    r.Gesture == kind && r.Pointers.HasFlag(Enum.Parse<Pointers>($"{pointer}"))
                    && r.On.HasFlag(isEmpty ? HitAreas.EmptySpace : Enum.Parse<HitAreas>($"{part}"))
                    && (r.AnyModifiers || ResolveOf(r.Modifiers, mod) == modifiers)
                    && (r.When is null || Meanings[r.When.Name](situation)));
                Assert.Same(wanted, rule);
                lock (gestures) gestures.Add(rule?.Name ?? "");
                var table = KeyTable.All[number % 3];
                var chord = chords[number / 3 % chords.Length];
                var (isMirrored, press) = (number % 2 == 0, new KeyPress(chord.Key == "Space" ? " " : chord.Key, chord.Resolve(mod)));
                var key = !isMirrored ? chord.Key : chord.Key == "ArrowLeft" ? "ArrowRight" : chord.Key == "ArrowRight" ? "ArrowLeft"
                    : chord.Key;
                var found = table.Find(press, situation, mod, isMirrored);
                Assert.Same(table.Rules.FirstOrDefault(r => r.Chord.Key == key && r.Chord.Resolve(mod) == chord.Resolve(mod)
                    && (r.When is null || Meanings[r.When.Name](situation))), found);
                lock (keys) keys.Add(found?.Name ?? "");
            }, iter: Effort.Of(60_000));
        if (!Effort.IsFull) return;
        Assert.Equal(2 * Meanings.Count, held.Count);
        Assert.Empty(GestureTable.Default.Rules.Select(r => r.Name).Except(gestures));
        Assert.Equal(chords.Length + 1, keys.Count);
    }

    [Fact]
    public void A_selection_policy_allows_what_its_numbers_say()
    {
        foreach (var mode in Enum.GetValues<SelectionMode>())
        {
            var policy = SelectionPolicy.For(mode);
            int least = mode == SelectionMode.SingleRequired ? 1 : 0, most = mode == SelectionMode.None ? 0
                : mode == SelectionMode.Multiple ? int.MaxValue : 1;
            Assert.Equal((mode, least, most), (policy.Mode, policy.Least, policy.Most));
            Assert.Equal((most > 0, most == 1, most > 1, least == 0), (policy.Selects, policy.SelectsOne, policy.SelectsMany,
                policy.MayBeEmpty));
            Assert.Equal(most > 1 ? null : "Only a list that selects many items can play.", policy.CheckMany("can play")?.Reason);
            for (var count = 0; count <= 4; count++)
                for (var before = 0; before <= 4; before++)
                    for (var limit = 1; limit <= 4; limit++)
                        Assert.Equal((mode, count) switch
                        {
                            (SelectionMode.None, > 0) => "This list selects nothing: its mode is none.",
                            (SelectionMode.Single or SelectionMode.SingleRequired, > 1) => $"This list selects one item, not {count}.",
                            (SelectionMode.SingleRequired, 0) when before > 0 => "One item must stay selected.",
                            (SelectionMode.Multiple, _) when count > limit && count > before =>
                                $"At most {limit} items may be selected; this would make {count}. {limit}",
                            _ => null,
                        }, policy.Check(count, before, limit) is { } refusal ? refusal.Reason + (refusal.Most is { } number
                            ? $" {number}" : "") : null);
        }
        Assert.Equal("2 items must stay selected.", new SelectionPolicy(SelectionMode.Multiple, 2, 9).Check(1, 2, 9)?.Reason);
        Assert.Contains("no such selection mode", Assert.Throws<ArgumentOutOfRangeException>(() =>
            SelectionPolicy.For((SelectionMode)9)).Message);
    }

    [Theory]
    [InlineData(GestureKind.Tap, HitAreas.Body, ActKind.MovePart, null, "the act 'move-part' is one of a key press or a call")]
    [InlineData(GestureKind.Tap, HitAreas.Body, ActKind.Grab, null,
        "the act 'grab' goes on while a pointer is down, and is begun by Drag or HoldDrag or LongPress")]
    [InlineData(GestureKind.Drag, HitAreas.Body, ActKind.Grab, null, null)]
    [InlineData(GestureKind.Tap, HitAreas.Body, ActKind.Select, "x", "the act 'select' names nothing, and the rule names 'x'")]
    [InlineData(GestureKind.Tap, HitAreas.Body | HitAreas.Tray, ActKind.InvokeTray, null, "the act 'invoke-tray' needs a gesture on Tray")]
    [InlineData(GestureKind.Tap, HitAreas.Tray, ActKind.InvokeTray, null, null)]
    [InlineData(GestureKind.Tap, HitAreas.Body, ActKind.ToggleMark, null,
        "the act 'toggle-mark' needs a mark: name it in the rule's Text, or let the rule be for Mark alone")]
    [InlineData(GestureKind.Tap, HitAreas.Body, ActKind.ToggleMark, "starred", null)]
    [InlineData(GestureKind.Tap, HitAreas.Mark, ActKind.ToggleMark, null, null)]
    [InlineData(GestureKind.Tap, HitAreas.Body, ActKind.RunCommand, null,
        "the act 'run-command' needs a command: name it in the rule's Text")]
    [InlineData(GestureKind.Tap, HitAreas.Body, ActKind.RunCommand, "x", null)]
    public void A_gesture_gives_only_acts_that_it_can(GestureKind gesture, HitAreas on, ActKind act, string? text, string? why)
    {
        var rule = new GestureRule("mine", gesture, Pointers.All, on, [ActKind.Clear, act]) { Text = act == ActKind.Clear ? null : text };
        if (text is not null) rule = rule with { Acts = [act] };
        var wanted = why is null ? null : $"The rule 'mine' cannot work: {why}.";
        Assert.Equal(wanted, Record.Exception(rule.Validate)?.Message);
        Assert.Equal(wanted, Record.Exception(() => GestureTable.Default.With(rule))?.Message);
        Assert.Equal(wanted, Record.Exception(() => GestureTable.Default.Replacing("tap selects", rule))?.Message);
        Assert.Equal(wanted, Record.Exception(new GestureTable([.. GestureTable.Default.Rules, rule]).Validate)?.Message);
        if (why is not null) return;
        Assert.Equal([rule, .. GestureTable.Default.Rules], GestureTable.Default.With(rule).Rules);
        var replaced = GestureTable.Default.Replacing("tap selects", rule);
        Assert.Equal(GestureTable.Default.Rules.Select(r => r.Name == "tap selects" ? rule : r), replaced.Rules);
        Assert.Equal(GestureTable.Default.Rules.Where(r => r.Name != "tap selects"), replaced.Without("mine").Rules);
    }

    [Theory]
    [InlineData(ActKind.OpenTray, Direction.None, null, "the act 'open-tray' is one of a pointer or a call")]
    [InlineData(ActKind.Move, Direction.None, null, "the act 'move' needs a direction: where it goes from the cursor")]
    [InlineData(ActKind.Move, Direction.Next, null, null)]
    [InlineData(ActKind.Select, Direction.Here, "x", "the act 'select' names nothing, and the rule names 'x'")]
    [InlineData(ActKind.RunCommand, Direction.None, null, "the act 'run-command' needs a command: name it in the rule's Text")]
    [InlineData(ActKind.RunCommand, Direction.None, "x", null)]
    [InlineData(ActKind.ToggleMark, Direction.Here, null, null)]
    public void A_key_gives_only_acts_that_it_can(ActKind act, Direction direction, string? text, string? why)
    {
        var rule = new KeyRule(new("M"), [act], direction) { Text = text };
        var wanted = why is null ? null : $"The rule 'key M' cannot work: {why}.";
        Assert.Equal(wanted, Record.Exception(rule.Validate)?.Message);
        Assert.Equal(wanted, Record.Exception(() => KeyTable.Grid.With(rule))?.Message);
        Assert.Equal(wanted, Record.Exception((KeyTable.Grid with { Rules = [.. KeyTable.Grid.Rules, rule] }).Validate)?.Message);
        if (why is not null) return;
        Assert.Equal([rule, .. KeyTable.Grid.Rules], KeyTable.Grid.With(rule).Rules);
        Assert.Equal(KeyTable.Grid, KeyTable.Grid.With(rule).Without(new("M")));
    }

    [Fact]
    public void Rules_and_tables_are_the_same_where_all_they_say_is()
    {
        var gesture = new GestureRule("a", GestureKind.Tap, Pointers.All, HitAreas.Body, [ActKind.Select], new("",
            Modifiers.Shift))
        { When = RuleCondition.Many };
        var key = new KeyRule(new("A"), [ActKind.Select], Direction.Next, RuleCondition.Many) { Text = "t" };
        Assert.Equal((gesture, key), (gesture with { Acts = [ActKind.Select] }, key with { Acts = [ActKind.Select] }));
        Assert.All([gesture with { Name = "b" }, gesture with { Gesture = GestureKind.Drag }, gesture with { Pointers = Pointers.Pen },
            gesture with { On = HitAreas.Mark }, gesture with { Modifiers = default }, gesture with { Text = "t" }, gesture with { When =
                null },
            gesture with { Acts = [ActKind.Add] }, gesture with { Acts = [] }], other => Assert.NotEqual(gesture, other));
        Assert.All([key with { Chord = new("B") }, key with { Direction = Direction.Here }, key with { Text = null }, key with { When =
            null },
            key with { Acts = [ActKind.Add] }, key with { Acts = [] }], other => Assert.NotEqual(key, other));
        GestureTable gestures = new([gesture]);
        KeyTable keys = new("k", [key]);
        Assert.Equal((gestures, keys), (new([gesture with { }]), new KeyTable("k", [key with { }])));
        Assert.All([keys with { Name = "l" }, keys with { MovingSelects = true }, keys with { FindsByTyping = false },
            keys with { Rules = [] }],
            other => Assert.NotEqual(keys, other));
        Assert.False(gestures.Equals(new GestureTable([])) || gestures.Equals(null) || keys.Equals(null) || gesture.Equals(null)
            || key.Equals(null));
        foreach (var act in (Action[])[() => gestures.With(null!), () => gestures.Replacing("a", null!), () => keys.With(null!)])
            Assert.Throws<ArgumentNullException>(act);
        Assert.Contains("There is no rule 'c'. The rules are: b, a.",
            Assert.Throws<ArgumentException>(() => gestures.With(gesture with { Name = "b" }).Without("c")).Message);
    }

    [Fact]
    public void A_table_of_an_app_s_own_is_turned_for_tiles_and_strips_too()
    {
        string Turned(KeyTable table) => string.Join("; ", table.Rules.Select(r => $"{r.Chord} {r.Direction}"));
        KeyRule Rule(string chord, Direction direction, RuleCondition? when = null) =>
            new(KeyChord.Parse(chord), [ActKind.MoveCursor], direction, when);
        var table = new KeyTable("own", [Rule("ArrowUp", Direction.Previous), Rule("Shift+ArrowDown", Direction.Next), Rule("ArrowUp",
            Direction.First),
            Rule("Home", Direction.First), Rule("Shift+End", Direction.Last), Rule("Ctrl+End", Direction.Last), Rule("J", Direction.Next)]);
        Assert.Equal("ArrowUp Up; ArrowLeft Previous; Shift+ArrowDown Down; Shift+ArrowRight Next; ArrowUp First; Home LineStart; " +
            "Mod+Home First; "
            + "Shift+End LineEnd; Ctrl+End Last; J Next", Turned(table.InTiles()));
        Assert.Equal("ArrowLeft Previous; Shift+ArrowRight Next; ArrowUp First; Home First; Shift+End Last; Ctrl+End Last; J Next",
            Turned(table.InStrip()));
        // What has its ends by a key already gets no other; while carrying there is none.
        var ended = new KeyTable("ended", [Rule("Home", Direction.First), Rule("Mod+Home", Direction.First), Rule("End", Direction.Last),
            Rule("Ctrl+Shift+End", Direction.Last), Rule("Home", Direction.First, RuleCondition.Carrying)]);
        Assert.Equal("Home LineStart; Mod+Home First; End LineEnd; Mod+End Last; Ctrl+Shift+End Last; Home LineStart",
            Turned(ended.InTiles()));
        Assert.Equal(Turned(ended.InTiles()), Turned(ended.InTiles().InTiles()));
    }

    [Fact]
    public void A_rule_is_in_force_where_some_state_of_the_list_lets_it_be()
    {
        string InForce(SelectionMode mode, bool spaceMarks = false, bool mayMove = false, bool isOutline = false) => string.Join("; ",
            KeyTable.Toggling.InForce(SelectionPolicy.For(mode), ModKey.Ctrl, spaceMarks, mayMove, isOutline).Where(r =>
                r.Rule.Chord.Key is "Space" or "ArrowRight" or "Enter")
                .Select(r => $"{r.Rule.Chord} {ActNames.Of(r.Rule.Acts[0])}{(r.Always ? "" : " at times")}"));
        Assert.Equal("Space toggle at times; Enter activate", InForce(SelectionMode.Single));
        Assert.Equal("Space toggle at times; Shift+Space extend-adding; Enter activate", InForce(SelectionMode.Multiple));
        Assert.Equal("Space toggle-mark at times; Shift+Space extend-adding; Enter activate", InForce(SelectionMode.Multiple,
            spaceMarks: true));
        Assert.Equal("Enter drop at times; Space drop at times; Space toggle at times; Shift+Space extend-adding; Enter activate at " +
            "times; Alt+Enter grab",
            InForce(SelectionMode.Multiple, mayMove: true));
        Assert.Equal("ArrowRight hover at times; Enter drop at times; Space drop at times; ArrowRight go-inward at times; Space " +
            "toggle-branch at times; "
            + "Shift+Space extend-adding; Enter activate at times; Alt+Shift+ArrowRight move; Alt+Enter grab",
            InForce(SelectionMode.Multiple, mayMove: true, isOutline: true));
        var planted = KeyTable.Toggling.With(new(KeyChord.Parse("Space"), [ActKind.Select])).With(new(KeyChord.Parse("Mod+T"),
            [ActKind.Clear]));
        Assert.Equal("Mod+T: kept by the platform: opens a tab; Space: never reached: Space already means select",
            string.Join("; ", planted.Conflicts(SelectionMode.Multiple, ModKey.Ctrl).Where(c =>
                c.Rule.When is null || c.Rule.Acts[0] == ActKind.Toggle)
                .Select(c => $"{c.Rule.Chord}: {c.Reason}")));
    }
}
