using System.Collections.Concurrent;
using System.Collections.Immutable;
using System.Collections.ObjectModel;
using System.ComponentModel;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Input;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Swiping;
using Lectica.Testing;

namespace Lectica.Tests.Lists;

/// <summary>
/// Whatever of the app's code throws, at whichever call: the list is whole afterwards, and right again when it is read again.
/// </summary>
public sealed class FaultTests(ITestOutputHelper output)
{
    private sealed class Injected(string where) : Exception($"injected in {where}");

    /// <summary>Counts the calls of the app's code, and has one of them throw.</summary>
    private sealed class Fault(int at)
    {
        private readonly List<string> _calls = [];

        /// <summary>Where each call came from.</summary>
        public IReadOnlyList<string> Calls => _calls;

        public string? Where { get; private set; }

        /// <summary>Whether calls are not counted: while the test itself looks.</summary>
        public bool IsLooking { get; set; }

        public void Pass(string where)
        {
            if (IsLooking) return;
            _calls.Add(where);
            if (_calls.Count != at) return;
            Where = where;
            throw new Injected(where);
        }

        public Func<T, TResult> In<T, TResult>(string where, Func<T, TResult> function) => arg =>
        {
            Pass(where);
            return function(arg);
        };
    }

    private sealed class Plate(string id, int magnitude) : INotifyPropertyChanged
    {
        public string Id { get; } = id;

        public int Magnitude { get; } = magnitude;

        public string Night { get; set; } = magnitude % 2 == 0 ? "tonight" : "later";

        public bool IsStarred
        {
            get;
            set
            {
                field = value;
                PropertyChanged?.Invoke(this, new(nameof(IsStarred)));
            }
        }

        public event PropertyChangedEventHandler? PropertyChanged;
    }

    /// <summary>A list of which every function and handler is the fault's, and a model of its selection by key.</summary>
    private sealed class Bench
    {
        private int _fresh;

        public Bench(Fault fault, int variant)
        {
            Fault = fault;
            Source = [.. Enumerable.Range(0, 9).Select(_ => Fresh())];
            var phrases = new Phrases { SelectionChanged = (_, _, n) => fault.In<int, string>("phrase", n => $"{n} selected")(n) };
            List = InteractiveList.Of(Source, fault.In<Plate, string>("key", p => p.Id), new()
            {
                Mode = SelectionMode.Multiple,
                MayMove = true,
                ModKey = ModKey.Ctrl,
                Viewport = new(400, 300),
                LongPress = variant % 2 == 0 ? LongPressMeaning.Menu : LongPressMeaning.StartSelecting,
                Parts = new() { Check = true, Marks = ["starred"], Handle = true },
                Phrases = phrases,
                Keys = variant % 3 == 0 ? KeyTable.Moving : KeyTable.Grid,
            });
            List.Content = fault.In<Plate, RowContent>("content", p => new(p.Id));
            List.Marks = [new("starred")
            {
                Get = fault.In<Plate, bool>("mark get", p => p.IsStarred),
                Set = (p, on) => { fault.Pass("mark set"); p.IsStarred = on; },
                SetMany = variant % 2 == 0 ? null
                    : (plates, on) => { foreach (var plate in plates) { fault.Pass("mark set"); plate.IsStarred = on; } },
            }, new("seen")];
            List.Commands =
            [
                new("drop", "Drop")
                {
                    ShowIn = ShowIn.TrailingTray | ShowIn.Toolbar, SwipesThrough = true, Chords = [new("Delete")],
                    Notice = fault.In<CommandTarget<Plate, string>, string>("notice", t => $"{t.Count} dropped"),
                    EnabledFor = fault.In<CommandTarget<Plate, string>, bool>("enabled for", _ => true),
                    CheckedFor = fault.In<CommandTarget<Plate, string>, bool>("checked for", _ => true),
                    Do = target => { foreach (var plate in target.Items) { fault.Pass("command"); Source.Remove(plate); } },
                    Inverse = target => { foreach (var (plate,
                        at) in target.Items.Zip(
                        target.Indexes)) { fault.Pass("inverse"); Source.Insert(Math.Min(at, Source.Count), plate); } },
                },
                new("wait", "Wait")
                {
                    Run = (_, cancel) => { fault.Pass("command"); var end =
                        new TaskCompletionSource<CommandResult>(); cancel.Register(() => end.TrySetCanceled(cancel)); return end.Task; },
                },
                new("ask", "Ask") { Question = fault.In<CommandTarget<Plate, string>, string>("question", _ => "Really?"), Do = _ => { } },
            ];
            List.CanGrab = fault.In<Plate, bool>("can grab", _ => true);
            List.CanDrop = fault.In<DropQuestion<Plate, string>, bool>("can drop", _ => true);
            List.CopyAs =
                fault.In<IReadOnlyList<Plate>, TransferData?>("copy as", plates => TransferData.OfLines(plates.Select(p => p.Id)));
            List.CutCommand = "drop";
            List.CanInsert = fault.In<InsertQuestion, bool>("can insert", _ => true);
            if (variant % 4 == 1) List.History = (_, undo, redo) => { fault.Pass("history"); (Undo, Redo) = (undo, redo); };
            Listen();
            Player = ListPlayer.On(List);
            Player.Wait(1000);
        }

        public Fault Fault { get; }

        public ObservableCollection<Plate> Source { get; }

        public InteractiveList<Plate, string> List { get; }

        public ListPlayer<Plate, string> Player { get; }

        public HashSet<string> Selected { get; } = [];

        public Action? Undo { get; private set; }

        public Action? Redo { get; private set; }

        public Plate Fresh() => new($"P{_fresh}", _fresh++ * 5 % 7);

        private void Listen()
        {
            void On(string name) => Fault.Pass(name);
            // What is told of the selection is what there is.
            List.SelectionChanged += (_, e) =>
            {
                Selected.ExceptWith(e.RemovedItems.Select(p => p.Id));
                Selected.UnionWith(e.AddedItems.Select(p => p.Id));
            };
            List.SelectionChanged += (_, _) => On("selection changed");
            List.Tapped += (_, _) => On("tapped");
            List.Activated += (_, _) => On("activated");
            List.Refused += (_, _) => On("refused");
            List.PressChanged += (_, _) => On("press changed");
            List.Haptic += (_, _) => On("haptic");
            List.MenuRequested += (_, _) => On("menu requested");
            List.MenuClosed += (_, _) => On("menu closed");
            List.Moved += (_, _) => On("moved");
            List.MarkChanged += (_, _) => On("mark changed");
            List.CommandRan += (_, _) => On("command ran");
            List.CommandFailed += (_, _) => On("command failed");
            List.CommandCancelled += (_, _) => On("command cancelled");
            List.MoreWanted += (_, _) => On("more wanted");
            List.SortRequested += (_, _) => On("sort requested");
            List.InsertRequested += (_, e) =>
            {
                On("insert requested");
                e.Insert([Fresh(), Fresh()]);
            };
            List.Copied += (_, _) => On("copied");
            List.PasteWanted += (_, _) => On("paste wanted");
            List.ConfirmationRequested += (_, e) => { On("confirmation"); e.Answer(true); };
            List.RetryRequested += (_, _) => On("retry");
            List.Announced += (_, _) => On("announced");
            List.Traced += _ => On("traced");
            List.FrameChanged += (_, _) => On("frame changed");
            List.PropertyChanged += (_, _) => On("property changed");
        }

        private ImmutableArray<Column<Plate>> Columns =>
        [
            new("name", "Name", Fault.In<Plate, string>("cell", p => p.Id)),
            new("magnitude", "Magnitude", p => $"{p.Magnitude}")
            {
                Compare = (p, q) => { Fault.Pass("column order"); return p.Magnitude.CompareTo(q.Magnitude); },
            },
        ];

        private string Key(int n) => Source.Count == 0 ? "none" : Source[n % Source.Count].Id;

        public const int Doings = 34;

        public void Do(int what, int a, int b)
        {
            var at = Source.Count == 0 ? 0 : a % Source.Count;
            switch (what)
            {
                case 0:
                    Source.Insert(a % (Source.Count + 1), Fresh());
                    break;
                case 1 when Source.Count > 0:
                    Source.RemoveAt(at);
                    break;
                case 2 when Source.Count > 0:
                    Source.Move(at, b % Source.Count);
                    break;
                case 3 when Source.Count > 0:
                    Source[at] = b % 2 == 0 ? Fresh() : new(Source[at].Id, b);
                    break;
                case 4:
                    List.Filter = b % 3 == 0 ? null : Fault.In<Plate, bool>("filter", p => (p.Magnitude + b) % 4 != 0);
                    break;
                case 5:
                    List.EnabledWhen = b % 3 == 0 ? null : Fault.In<Plate, bool>("enabled", p => (p.Magnitude + b) % 5 != 0);
                    break;
                case 6:
                    List.PinnedWhen = b % 3 == 0 ? null : Fault.In<Plate, bool>("pinned", p => p.Magnitude == b % 7);
                    break;
                case 7:
                    List.Sections = b % 3 == 0 ? null : new(Fault.In<Plate, string>("section", p => p.Night))
                    {
                        Order = ["tonight"],
                        TitleOf = Fault.In<string, string>("title", k => k),
                        EmptyText = Fault.In<EmptySection, string>("empty text", _ => "none"),
                        Assign = (p, night) => { Fault.Pass("assign"); p.Night = night; },
                    };
                    break;
                case 8:
                    List.SortBy = b % 2 == 0 ? null : (p, q) => { Fault.Pass("order"); return p.Magnitude.CompareTo(q.Magnitude); };
                    break;
                case 9 or 10:
                    List.Toggle(Key(a));
                    break;
                case 11:
                    List.SelectAll();
                    break;
                case 12:
                    List.ToggleMark(b % 2 == 0 ? "starred" : "seen", Key(a));
                    break;
                case 13:
                    List.RunCommand(b % 4 == 0 ? "ask" : "drop", Key(a));
                    break;
                case 14:
                    if (Undo is { } undo) undo();
                    else List.Undo();
                    break;
                case 15:
                    if (Redo is { } redo) redo();
                    else List.Redo();
                    break;
                case 16:
                    List.Move([Key(a), Key(a + 2)], b % (Source.Count + 1));
                    break;
                case 17:
                    Player.Touch.MoveTo(b % 2 == 0 ? 380 : 200, a % 300);
                    Player.Touch.Down();
                    Player.Touch.GlideTo(380, b % 300, 200);
                    Player.Touch.Up();
                    Player.Wait(500);
                    break;
                case 18:
                    Player.Touch.MoveTo(250, a % 300);
                    Player.Touch.Down();
                    Player.Touch.GlideTo(b % 250, a % 300, 150);
                    Player.Touch.Up();
                    Player.Wait(500);
                    break;
                case 19:
                    Player.Touch.MoveTo(200, a % 300);
                    Player.Touch.Down();
                    Player.Wait(700);
                    Player.Touch.Up();
                    Player.Press(b % 2 == 0 ? "Escape" : "ArrowDown");
                    Player.Press("Enter");
                    break;
                case 20:
                    Player.Press(
                        ((string[])["ArrowDown", "Shift+ArrowDown", "Space", "Alt+ArrowDown", "Alt+Enter", "Delete", "Escape", "Mod+A",
                            "ContextMenu", "End"])[a % 10]);
                    break;
                case 21:
                    _ = List.Frame;
                    break;
                case 22 when Source.Count > 0:
                    // The app changes an item by itself.
                    Source[at].IsStarred ^= true;
                    break;
                case 23:
                    using (List.Batch())
                    {
                        List.Toggle(Key(a));
                        Source.Insert(0, Fresh());
                        List.Toggle(Key(b));
                    }
                    break;
                case 24:
                    List.Restore(List.Save());
                    break;
                case 26:
                    Player.Touch.MoveTo(a % 400, b % 300);
                    Player.Touch.Down();
                    Player.Touch.Up();
                    break;
                case 27:
                    Player.Mouse.MoveTo(a % 400, b % 300);
                    Player.Mouse.Down(b % 3 == 0 ? 2 : 0);
                    Player.Mouse.Up(b % 3 == 0 ? 2 : 0);
                    break;
                case 28:
                    if (!List.CancelCommand("wait").IsHandled) List.RunCommand("wait", Key(a));
                    break;
                case 29:
                    List.More = (a % 4) switch { 0 => More.NotSaid, 1 => More.Failed(), 2 => More.None, _ => More.ToCome };
                    break;
                case 30:
                    Player.Press(((string[])["Mod+C", "Mod+X", "Mod+V"])[a % 3]);
                    break;
                case 31:
                    Player.DropFromOutside(TransferData.OfText("x"), b);
                    break;
                case 32:
                    List.Columns = b % 3 == 0 ? [] : Columns;
                    break;
                case 33:
                    if (List.Columns.IsEmpty) List.Columns = Columns;
                    if (b % 3 == 0) List.Sort = new("magnitude", a % 2 == 0);
                    else List.PressHeader(b % 3 == 1 ? "magnitude" : "name");
                    break;
                case 25:
                    Player.Mouse.MoveTo(300, 280);
                    Player.Mouse.Down();
                    Player.Mouse.GlideTo(100, a % 300, 100);
                    if (b % 3 == 0 && Source.Count > 0) Source.RemoveAt(at);
                    Player.Mouse.Up();
                    break;
            }
        }

        /// <summary>What is true of any list at any time.</summary>
        public void CheckWhole()
        {
            Fault.IsLooking = true;
            LookWhole();
            Fault.IsLooking = false;
        }

        private void LookWhole()
        {
            var (list, n) = (List, List.Count);
            Assert.Equal(n, list.Selection.Items.Universe);
            Assert.Equal(n, list.Selection.StartingPoint.Universe);
            Assert.Equal(n, list.Disabled.Universe);
            Assert.Equal(n, list.Marked("starred").Universe);
            Assert.Equal(n, list.Marked("seen").Universe);
            Assert.Equal(n, list.Rows.Shown.Universe);
            Assert.InRange(list.Selection.Cursor, -1, n - 1);
            Assert.InRange(list.Selection.Anchor, -1, n - 1);
            Assert.True(list.Selection.Items.Except(list.Rows.Shown).IsEmpty, "something hidden is selected");
            for (var i = 0; i < n; i++) Assert.Equal(i, list.IndexOf(list[i].Id));
            Assert.Equal(list.Rows.Shown.Count, list.Rows.InOrder().Distinct().Count());
            if (!list.Rows.Sections.IsEmpty) Assert.Equal(n, list.Rows.Sections.Sum(s => s.Members.Count));
            Assert.False(list.IsDragging && !list.HoldsPointer);
            foreach (var i in list.Rows.Shown)
                if (list.Rows.RowOf(i) is { } row) Assert.Equal(i, list.Rows.IndexAt(row));
            Assert.True(Selected.SetEquals(list.SelectedKeys),
                $"told: {string.Join(",", Selected.Order())}; is: {string.Join(",", list.SelectedKeys.Order())}");
        }

        /// <summary>What the source and the app's functions say the list must be.</summary>
        public void CheckRight()
        {
            Fault.IsLooking = true;
            LookRight();
            Fault.IsLooking = false;
        }

        private void LookRight()
        {
            var list = List;
            Assert.Equal(Source.Select(p => p.Id), Enumerable.Range(0, list.Count).Select(i => list[i].Id));
            Assert.Equal(Source.Where(p => list.Filter?.Invoke(p) ?? true).Select(p => p.Id), list.Rows.Shown.Select(i => list[i].Id));
            Assert.Equal(
                Source.Where(p => !(list.EnabledWhen?.Invoke(p) ?? true)).Select(p => p.Id), list.Disabled.Select(i => list[i].Id));
            Assert.Equal(Source.Where(p => p.IsStarred).Select(p => p.Id), list.Marked("starred").Select(i => list[i].Id));
            if (list.Sections is { } sections)
                foreach (var section in list.Rows.Sections)
                    Assert.All(section.Members, i => Assert.Equal(section.Key, sections.Of(list[i])));
            if (list.SortBy is { } compare && list.Sections is null)
            {
                var shown = list.Rows.InOrder().Select(i => list[i]).ToList();
                Assert.Equal(shown.Order(Comparer<Plate>.Create(compare)).Select(p => p.Magnitude), shown.Select(p => p.Magnitude));
            }
            if (!list.IsGrabbing) Assert.Equal(list.Rows.Count, list.Frame.RowCount);
        }
    }

    // So many calls of one function are made to throw each; of more of them every eighth.
    private const int Most = 30;

    private static bool Holds(Exception error) =>
        error is Injected || (error.InnerException is { } inner && Holds(inner))
        || error.Message.Contains("injected", StringComparison.Ordinal);

    [Fact]
    public void Whichever_call_of_the_apps_code_throws_the_list_is_whole_and_right_when_it_is_read_anew()
    {
        var hit = new ConcurrentDictionary<string, int>();
        var runs = 0;
        Parallel.For(0, Effort.Of(40), seed =>
        {
            var random = new Random(seed);
            (int What, int A, int B)[] doings =
                [.. Enumerable.Range(0, 14).Select(_ => (random.Next(Bench.Doings), random.Next(300), random.Next(300)))];
            var calls = Run(seed, doings, int.MaxValue).Calls;
            // Each call of the app's functions once; of what only listens to everything, some.
            var seen = new Dictionary<string, int>();
            for (var k = 1; k <= calls.Count; k++)
            {
                var n = seen[calls[k - 1]] = seen.GetValueOrDefault(calls[k - 1]) + 1;
                if (calls[k - 1] is "traced" or "property changed" or "frame changed" && n % 25 != seed % 25) continue;
                if (n > Most && n % 8 != seed % 8) continue;
                var fault = Run(seed, doings, k);
                if (fault.Where is { } where) hit.AddOrUpdate(where, 1, (_, n) => n + 1);
                Interlocked.Increment(ref runs);
            }
        });
        output.WriteLine($"{runs:N0} runs; " + string.Join(", ", hit.OrderBy(h => h.Key).Select(h => $"{h.Key} {h.Value:N0}")));
        if (!Effort.IsFull) return;
        string[] expected =
        [
            "activated", "announced", "assign", "can drop", "can grab", "can insert", "cell", "checked for", "column order",
            "command cancelled", "command ran", "command", "confirmation", "content", "copied", "copy as", "empty text", "enabled for",
            "enabled", "filter", "frame changed", "haptic", "history", "insert requested", "inverse", "key", "mark changed", "mark get",
            "mark set", "menu closed", "menu requested", "more wanted", "moved", "notice", "order", "paste wanted", "phrase", "pinned",
            "press changed", "property changed", "question", "refused", "section", "selection changed", "sort requested", "tapped",
            "title", "traced",
        ];
        Assert.Empty(expected.Except(hit.Keys));
    }

    private static Fault Run(int seed, (int What, int A, int B)[] doings, int at)
    {
        var fault = new Fault(at);
        Bench bench;
        try
        {
            bench = new(fault, seed);
        }
        catch (Exception e) when (Holds(e))
        {
            // A list that could not be made is none.
            return fault;
        }
        for (var i = 0; i < doings.Length; i++)
        {
            var (what, a, b) = doings[i];
            var failedBefore = fault.Where;
            try
            {
                bench.Do(what, a, b);
            }
            catch (Exception e) when (fault.Where is not null && failedBefore is null && Holds(e))
            {
            }
            var words = $"seed {seed}, call {at} ({fault.Where}), doing {i}: {what} {a} {b}";
            try
            {
                bench.CheckWhole();
                if (fault.Where is null || failedBefore is not null) continue;
                // Nothing throws any more: read again, all is as the app says.
                bench.List.Refresh();
                bench.CheckWhole();
                bench.CheckRight();
                Assert.True(bench.Source.Count == 0 || bench.List.MoveCursorTo(bench.Source[0].Id).IsHandled
                    || bench.List.Filter is not null);
            }
            catch (Exception e)
            {
                throw new InvalidOperationException($"{words}: {e.Message}", e);
            }
        }
        return fault;
    }

    [Fact]
    public void Whatever_is_set_in_the_middle_of_whichever_stroke_the_list_is_whole()
    {
        var reached = new ConcurrentDictionary<string, int>();
        string[] strokes = ["grab", "swipe", "sweep", "marquee", "carry", "hold", "menu", "typing"];
        Parallel.For(0, Effort.Of(3000), seed =>
        {
            var random = new Random(seed);
            var bench = new Bench(new(int.MaxValue), seed);
            var (list, player) = (bench.List, bench.Player);
            for (var i = 0; i < 3; i++) bench.Do(random.Next(4, 13), random.Next(300), random.Next(300));
            var stroke = strokes[seed % strokes.Length];
            list.BeginSelecting();
            switch (stroke)
            {
                case "grab":
                    player.Touch.MoveTo(380, 20 + random.Next(200));
                    player.Touch.Down();
                    player.Touch.GlideTo(380, random.Next(280), 80);
                    break;
                case "swipe":
                    player.Touch.MoveTo(250, 20 + random.Next(200));
                    player.Touch.Down();
                    player.Touch.GlideTo(60, player.Touch.Y, 80);
                    break;
                case "sweep":
                    player.Touch.MoveTo(20, 20 + random.Next(200));
                    player.Touch.Down();
                    player.Touch.GlideTo(20, random.Next(280), 80);
                    break;
                case "marquee":
                    list.Resize(400, 800);
                    player.Mouse.MoveTo(300, 790);
                    player.Mouse.Down();
                    player.Mouse.GlideTo(10, random.Next(500), 80);
                    break;
                case "carry":
                    list.Grab(bench.Source[random.Next(bench.Source.Count)].Id);
                    list.Hover(Direction.Next);
                    break;
                case "hold":
                    player.Touch.MoveTo(200, 20 + random.Next(200));
                    player.Touch.Down();
                    player.Wait(600);
                    break;
                case "menu":
                    list.OpenMenu(bench.Source[random.Next(bench.Source.Count)].Id);
                    break;
                default:
                    player.Press("p");
                    break;
            }
            var isOn = list.IsDragging || list.IsGrabbing || list.IsMenuOpen || stroke is "hold" or "typing";
            // Every setter, in the middle of it.
            var what = random.Next(10);
            var (a, b) = (random.Next(300), random.Next(300));
            if (what == 9) list.Commands = b % 2 == 0 ? [] : [new("other", "Other") { Do = _ => { }, ShowIn = ShowIn.LeadingTray }];
            else if (what is 2 or 3 && b % 3 == 0) list.Marks = [new("starred"), new("seen") { Look = Marking.MarkLook.Flag }];
            else bench.Do(what is 2 ? 8 : what, a, b);
            if (isOn) reached.AddOrUpdate($"{stroke}/{what}", 1, (_, n) => n + 1);
            var words = $"seed {seed}, {stroke}, set {what} {a} {b}";
            try
            {
                bench.CheckWhole();
                _ = list.Frame;
                player.Touch.GlideTo(player.Touch.X + 30, random.Next(280), 50);
                player.Mouse.GlideTo(player.Mouse.X + 30, random.Next(280), 50);
                player.Wait(900);
                _ = list.Frame;
                bench.CheckWhole();
                player.Touch.Up();
                player.Mouse.Up();
                player.Press(random.Next(2) == 0 ? "Escape" : "Enter");
                bench.CheckWhole();
                _ = list.Frame;
                Assert.False(list.IsDragging, "a pointer that is up drags");
                player.Press("Escape");
                player.Press("Escape");
                player.Press("Escape");
                Assert.False(list.IsGrabbing || list.IsMenuOpen || list.IsTrayOpen, "Escape leaves nothing open");
                bench.List.Refresh();
                bench.CheckWhole();
                if (what is not (2 or 3)) bench.CheckRight();
            }
            catch (Exception e)
            {
                throw new InvalidOperationException($"{words}: {e.Message}", e);
            }
        });
        output.WriteLine(string.Join(", ", reached.OrderBy(r => r.Key).Select(r => $"{r.Key} {r.Value}")));
        if (!Effort.IsFull) return;
        foreach (var stroke in strokes)
            Assert.True(Enumerable.Range(0, 10).Count(w => reached.ContainsKey($"{stroke}/{w}")) == 10,
                $"{stroke} was not met by every setter");
    }
}
