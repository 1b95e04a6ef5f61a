using System.Collections.ObjectModel;
using System.Globalization;
using System.Linq.Expressions;
using System.Reflection;
using System.Text.RegularExpressions;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Frames;
using Lectica.Input;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Marking;
using Lectica.Testing;

namespace Lectica.Tests.Lists;

/// <summary>
/// Every word that is shown or said is in the phrases: in a third language, whose words stand between brackets, no letter is left over.
/// </summary>
public sealed partial class LanguageTests
{
    private sealed record Request(string Id, string Night);

    [GeneratedRegex(@"⟦[^⟦⟧]*⟧")]
    private static partial Regex OurWord();

    /// <summary>
    /// A language made up of the phrases' names, and without any plural: each phrase says its name, and what it was given.
    /// </summary>
    private static Phrases Third(ISet<string> used)
    {
        var third = new Phrases();
        string Say(string name, object?[] given)
        {
            used.Add(name);
            return $"⟦{name}⟧ {string.Join(' ', given.Select(g => g is Refusal or bool ? "" : g))}";
        }
        foreach (var property in typeof(Phrases).GetProperties(BindingFlags.Public | BindingFlags.Instance))
        {
            if (property.PropertyType == typeof(string))
            {
                property.SetValue(third, $"⟦{property.Name}⟧");
                continue;
            }
            ParameterExpression[] given = [.. property.PropertyType.GetGenericArguments()[..^1].Select(Expression.Parameter)];
            var say = Expression.Call(
                Expression.Constant((Func<string, object?[], string>)Say), "Invoke", null, Expression.Constant(property.Name),
                Expression.NewArrayInit(typeof(object), given.Select(g => Expression.Convert(g, typeof(object)))));
            property.SetValue(third, Expression.Lambda(property.PropertyType, say, given).Compile());
        }
        return third;
    }

    [Fact]
    public void Numbers_have_their_thousands_parted_as_the_language_does()
    {
        // How much of something is done is a hundred at most.
        string[] percents = [nameof(Phrases.CommandProgress), nameof(Phrases.Busy)];
        var phrases = typeof(Phrases).GetProperties(BindingFlags.Public | BindingFlags.Instance)
            .Where(p => p.PropertyType.IsGenericType && !percents.Contains(p.Name)
                && p.PropertyType.GetGenericArguments().Contains(typeof(int)))
            .ToList();
        foreach (var (language, wanted) in ((Phrases, string)[])[(Phrases.English, "1,234,567"), (Phrases.German, "1.234.567")])
        {
            var parted = 0;
            foreach (var phrase in phrases)
            {
                object?[] given = [.. phrase.PropertyType.GetGenericArguments()[..^1].Select(t =>
                    t == typeof(int) ? 1234567 : t == typeof(bool) || t == typeof(bool?) ? (object)false : "Orvane Ring")];
                var said = (string)((Delegate)phrase.GetValue(language)!).DynamicInvoke(given)!;
                Assert.DoesNotContain("1234567", said);
                if (said.Contains(wanted, StringComparison.Ordinal)) parted++;
            }
            Assert.Equal(phrases.Count, parted);
            Assert.Contains("12", language.Refused(new(RefusalKind.Limit, "") { Most = 12 }));
        }
        Assert.True(phrases.Count > 10);
    }

    [Fact]
    public void A_third_language_leaves_no_word_of_another_over()
    {
        var used = new HashSet<string>();
        var third = Third(used);
        var said = new List<string>();
        var plan = new ObservableCollection<Request>(Enumerable.Range(1, 6).Select(i => new Request($"{i}", i < 4 ? "1" : "2")));
        using var list = InteractiveList.Awaiting((Request r) => r.Id, new()
        {
            Mode = SelectionMode.Multiple,
            Limit = 5,
            MayMove = true,
            NoticesMoves = true,
            Phrases = third,
            Viewport = new(300, 400),
            Parts = new() { Check = true, Marks = ["★"], Handle = true },
        });
        void Gather()
        {
            var frame = list.Frame;
            said.AddRange(frame.Rows.Select(r => r.Content.Label));
            if (frame.Brief is { } brief) said.AddRange([brief.Text, brief.Offer ?? ""]);
            if (frame.Grab?.Refusal is { } refusal) said.Add(refusal);
            said.AddRange(frame.Rows.Where(r => r.Busy is not null).Select(r => r.Busy!.Label));
            foreach (var entry in frame.Menu?.Entries ?? []) said.AddRange([entry.Label, .. entry.Entries.Select(e => e.Label)]);
            if (frame.Menu is { } menu) said.Add(menu.BackLabel);
            said.AddRange(list.ToolbarFor(100).Shown.Concat(list.ToolbarFor(0).Overflow).Select(e => e.Label));
        }
        list.Announced += (_, e) => said.Add(e.Text);
        list.Refused += (_, e) => said.Add(e.Text);
        list.FrameChanged += (_, _) => Gather();
        list.CommandFailed += (_, _) => { };
        list.Content = r => new(r.Id);
        Gather();
        list.ShowLoading();
        list.ShowFailed("7");
        list.Show([]);
        list.Show(plan);
        list.Marks = [new("★") { Look = MarkLook.Star }];
        var end = new TaskCompletionSource<CommandResult>();
        list.Commands = [new("1", "1") { ShowIn = ShowIn.Menu | ShowIn.Toolbar, Run = (t, c) => (end = new()).Task },
            new("2", "2") { Do = _ => { }, Inverse = _ => { }, Notice = _ => "8" }];
        list.Filter = _ => false;
        list.Filter = null;
        list.Sections = new(r => r.Night) { Assign = (_, _) => { } };
        list.SelectAll();
        list.ToggleSection("1");
        list.ToggleSection("2");
        list.Clear();
        list.ExtendTo("3");
        list.CollapseOrExpand("1");
        list.CollapseOrExpand("1");
        list.ToggleMark("★", "2");
        list.Undo();
        list.Redo();
        list.OpenMenu("2");
        list.CloseMenu();
        list.MoveToBottom(["2"]);
        list.Undo();
        list.CanDrop = _ => false;
        list.Grab("2");
        list.Take(new KeyPress("ArrowDown"));
        list.CanDrop = null;
        list.Take(new KeyPress("ArrowDown"));
        list.Take(new KeyPress("Enter"));
        list.Grab("2");
        list.Take(new KeyPress("Escape"));
        list.RunCommand("2", "2");
        list.RunCommand("1", "2");
        list.OpenMenu("2");
        list.CancelCommand("1");
        end.SetCanceled(TestContext.Current.CancellationToken);
        list.Advance(1);
        list.RunCommand("1", "2");
        Gather();
        end.SetException(new InvalidOperationException("x"));
        list.Advance(1);
        foreach (var more in new[] { More.Loading, More.Failed(), More.ToCome, More.None })
        {
            list.More = more;
            list.ScrollTo(1e6);
            Gather();
        }
        said.Add(third.MoreToCome);
        list.More = More.NotSaid;
        list.CopyAs = items => TransferData.OfLines(items.Select(i => i.Id));
        list.CutCommand = "2";
        list.Copied += (_, _) => { };
        list.PasteWanted += (_, _) => { };
        list.InsertRequested += (_, e) => e.Insert([new("9", "1")]);
        list.Copy();
        list.Paste(TransferData.OfText("9"));
        list.OpenMenu("2");
        list.CloseMenu();
        list.Commands = [new("3", "3") { Scope = CommandScope.List, Do = _ => { } }];
        list.PullCommand = "3";
        list.ScrollTo(0);
        foreach (var (kind, y) in ((SampleKind, double)[])[(SampleKind.Down, 50), (SampleKind.Move, 100), (SampleKind.Move, 300)])
        {
            list.Take(new PointerSample(kind, 1, PointerType.Touch, 200, y, 5000) { Buttons = 1 });
            said.Add(list.Frame.Pull?.Text ?? "");
        }
        list.Sections = null;
        list.Filter = null;
        var late = new TaskCompletionSource();
        var reads = new Queue<Task>([Task.FromException(new IOException("9")), late.Task]);
        list.Outline = Outline.ByParent((Request r) => r.Id == "2" ? "1" : null) with
        {
            HasUnread = r => r.Id == "3" && reads.Count > 0,
            ReadBelow = (_, _) => reads.Dequeue(),
        };
        foreach (var id in (string[])["1", "1", "3", "3"])
        {
            list.CollapseOrExpandBranch(id);
            list.Advance(6000);
        }
        late.SetResult();
        list.Advance(6000);
        list.CollapseAll();
        list.ExpandAll();
        list.OpenMenu("1");
        Gather();
        list.CloseMenu();
        list.Outline = null;
        list.Columns = [new("1", "1", _ => "1") { Compare = (_, _) => 0 }];
        list.PressHeader("1");
        list.Sort = null;
        list.Columns = [];
        using var other = InteractiveList.Of(new ObservableCollection<Request>(), r => r.Id, new() { MayMove = true });
        var group = new ListGroup<Request, string>();
        group.Add(list);
        group.Add(other);
        Assert.Null(group.Send(list, other, ["1"]).Refusal?.Reason);
        SimulatedSource<Request, string> service = new(Enumerable.Range(0, 300).Select(i => new Request($"{i}", "1")), r => r.Id,
            (a, b) => int.Parse(a.Id, CultureInfo.InvariantCulture).CompareTo(int.Parse(b.Id, CultureInfo.InvariantCulture)))
        {
            Marked = (_, _, _) => throw new IOException("9"),
        };
        list.Show(service);
        service.IsSlow = true;
        list.ScrollTo(200 * 52);
        Gather();
        service.Failures.Enqueue(new IOException("9"));
        service.Answer();
        Gather();
        service.IsSlow = false;
        list.ScrollTo(0);
        list.SetMark("★", ItemSet.All(list.Count), true);
        Gather();
        list.ConfirmationRequested += (_, e) => said.Add(e.Question);
        list.SetMark("★", ItemSet.All(list.Count), true);
        var field = new ChoiceField<string, string>(["1"], s => s, new() { Phrases = third });
        said.Add(field.Frame.Text);
        foreach (var kind in Enum.GetValues<RefusalKind>()) said.Add(third.Refused(new(kind, "")));

        Assert.All(said, text => Assert.DoesNotContain(OurWord().Replace(text, ""), char.IsLetter));
        var met = string.Join(' ', said);
        // Those that only hosts show, and what the others are not met for: everything else was shown or said.
        string[] ofHosts = ["SelectBranch", "Expand", "Collapse", "Select", "SelectAll", "Menu", "MoreCommands", "Done", "Selected", "Busy",
            "CommandProgress", "Items", "Moved", "MarkedBy", "Number", "Remove", "PutBack"];
        string[] missed = [.. typeof(Phrases).GetProperties(BindingFlags.Public | BindingFlags.Instance).Select(p => p.Name)
            .Where(n => !met.Contains($"⟦{n}⟧", StringComparison.Ordinal)).Except(ofHosts)];
        Assert.Empty(missed);
    }

    [Fact]
    public void German_has_its_own_word_for_each()
    {
        var properties = typeof(Phrases).GetProperties(BindingFlags.Public | BindingFlags.Instance);
        foreach (var property in properties)
        {
            object? english = property.GetValue(Phrases.English), german = property.GetValue(Phrases.German);
            if (english is string) Assert.NotEqual(english, german);
            else Assert.NotSame(((Delegate)english!).Method, ((Delegate)german!).Method);
        }
        Assert.True(properties.Length > 40, $"{properties.Length}");
        foreach (var kind in Enum.GetValues<RefusalKind>())
            Assert.NotEqual(Phrases.English.Refused(new(kind, "")), Phrases.German.Refused(new(kind, "")));
    }
}
