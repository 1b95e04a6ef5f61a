using System.Collections.Specialized;
using System.Globalization;
using System.Net;
using System.Text.Json.Nodes;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Input;
using Lectica.Items;
using Lectica.Layout;
using Lectica.Marking;
using Lectica.Selecting;

namespace Lectica.Examples.NightPlan;

/// <summary>The lists that the page shows, by name: the query's <c>sample</c>; <c>rows</c> is how many requests there are.</summary>
internal static class Samples
{
    private const int AtOnce = 2_000;

    /// <summary>
    /// Whether the page keeps a sample's requests itself. An archive is read again, and where size is tried, writing them would take long.
    /// </summary>
    public static bool IsKept(string name, NameValueCollection query) => name != "archive" && RowsOf(name, query) <= AtOnce;

    /// <summary>The requests that a sample begins with.</summary>
    public static List<Request> Requests(string name, NameValueCollection query)
    {
        var rows = RowsOf(name, query);
        var plan = Plan.Make(name == "outline" ? rows : Math.Min(rows, AtOnce)).ToList();
        if (name == "outline")
            foreach (var (request, i) in plan.Select((r, i) => (r, i)))
                request.Below = i % 4 == 0 ? null : plan[i % 4 == 3 ? i - 1 : i - (i % 4)].Id;
        return plan;
    }

    private static int RowsOf(string name, NameValueCollection query) =>
        int.TryParse(query["rows"], NumberStyles.Integer, CultureInfo.InvariantCulture, out var rows) ? rows : name == "archive" ? 200 : 24;

    /// <summary>A sample's list, of the requests that it begins with or of others.</summary>
    public static InteractiveList<Request, RequestId> Open(string name, NameValueCollection query, List<Request>? plan = null)
    {
        plan ??= Requests(name, query);
        var plain = name is "plain" or "notes";
        var options = new ListOptions
        {
            Title = "Tonight, in order",
            Mode = name == "plain" ? SelectionMode.Single : SelectionMode.Multiple,
            MayMove = name != "plain",
            Overscan = 200,
            // As large as the page shows it at first.
            Viewport = new(478, 546),
            SheetWidth = 480,
            HasStickyHeadings = true,
            NarrowWidth = 400,
            NoticesMoves = true,
            IsRightToLeft = query["dir"] == "rtl",
            DragsOut = name == "clipboard",
            Layout = name switch
            {
                "tiles" => new Tiles(160, 96),
                "strip" => new Strip(int.TryParse(query["item"], CultureInfo.InvariantCulture, out var wide) ? wide : 168),
                _ => ListLayout.Rows,
            },
            Phrases = query["lang"] == "de" ? Phrases.German : Phrases.English,
            LongPress = query["press"] == "select" ? LongPressMeaning.StartSelecting : LongPressMeaning.Menu,
            Parts = plain ? new() : new() { Check = true, Marks = ["starred"], Handle = true },
        };
        var list = InteractiveList.Of(plan, r => r.Id, options);
        list.KeyOfText = RequestId.Parse;
        // A tile has room for less.
        list.Content = options.Layout != ListLayout.Rows
            ? r => new(r.Field, r.AsksAgain ? "Tomorrow again" : r.Requester)
            : r => new(r.Field,
                string.Create(CultureInfo.InvariantCulture, $"{r.Requester} · magnitude {r.Magnitude:0.0}") +
                (r.AsksAgain ? " · tomorrow again" : "") +
                (name == "notes" && r.Wish.Length > 0 ? ". " + r.Wish : ""));
        // What is more than a screen needs comes while the page is used already.
        if (name != "outline" && RowsOf(name, query) > AtOnce) list.Fill(Plan.Make(RowsOf(name, query), AtOnce));
        if (plain) return list;
        list.Marks = [
            new("starred")
            {
                Label = "Starred",
                Look = MarkLook.Star,
                Get = r => r.IsStarred,
                Set = (r, on) => r.IsStarred = on,
                SetMany = (requests, on) => { foreach (var request in requests) request.IsStarred = on; },
            }];
        if (name == "columns")
        {
            list.Columns =
            [
                new("field", "Field", r => r.Field)
                {
                    Share = 3,
                    LeastWidth = 150,
                    Compare = (a, b) => string.CompareOrdinal(a.Field, b.Field),
                },
                new("magnitude", "Magnitude", r => r.Magnitude.ToString("0.0", CultureInfo.InvariantCulture))
                {
                    Width = 136,
                    AlignsEnd = true,
                    Compare = (a, b) => a.Magnitude.CompareTo(b.Magnitude),
                },
                new("requester", "Requester", r => r.Requester)
                {
                    Share = 2,
                    Compare = (a, b) => string.CompareOrdinal(a.Requester, b.Requester),
                },
            ];
        }
        if (name == "outline")
            list.Outline = Outline.ByParent((Request r) => r.Below) with { OpenLevels = 3, Assign = (r, parent) => r.Below = parent?.Id };
        if (name is "sections" or "own")
            list.Sections = new(r => r.Night)
            {
                Order = ["tonight", "later"],
                TitleOf = key => key == "tonight" ? "Tonight" : "Later",
                EmptyText = _ => "Nothing here",
                Assign = (r, night) => r.Night = night,
            };
        list.Commands =
        [
            new("star", "Star")
            {
                Icon = "star", ShowIn = ShowIn.LeadingTray | ShowIn.Toolbar, Priority = 3, SwipesThrough = true,
                    Role = CommandRole.Positive,
                CheckedFor = target => list.MarkState("starred", target) == TriState.On,
                Do = target =>
                {
                    list.ToggleMarkOf("starred", target);
                    // Of many, most are not even in sight: their stars say it, and the list has announced it.
                    if (target.Count == 1) list.Flash(target.Keys[0], target.Item.IsStarred ? "Starred" : "No star");
                },
            },
            new("withdraw", "Withdraw")
            {
                Icon = "bin", ShowIn = ShowIn.TrailingTray | ShowIn.Toolbar, Priority = 2, SwipesThrough = true,
                    Role = CommandRole.Destructive, Group = "lose", Chords = [new("Delete")],
                        Notice = target => $"{target.Count:N0} withdrawn",
                // What the list does it can take back.
                Do = list.TakeOut,
            },
            new("defer", "Defer")
            {
                Icon = "clock",
                ShowIn = ShowIn.TrailingTray | ShowIn.Toolbar,
                Role = CommandRole.Warning,
                Notice = target => $"{target.Count:N0} deferred",
                // To the end of the plan or, where there are sections, to the later nights: in a sorted list nothing has such a place.
                EnabledFor = _ => list.SortBy is null,
                Do = target =>
                {
                    if (list.Sections is null) list.MoveToBottom(target.Keys);
                    else list.MoveToSection(target.Keys, "later");
                },
            },
            new("tomorrow", "Ask again tomorrow")
            {
                Icon = "moon",
                ShowIn = ShowIn.Toolbar,
                CheckedFor = target => target.Items.All(r => r.AsksAgain),
                Do = target => AskAgain(target.Items, !target.Items.All(r => r.AsksAgain)),
            },
            new("dome", "Send to the dome")
            {
                Icon = "dome", ShowIn = ShowIn.Toolbar | ShowIn.Menu, Notice = target => $"{target.Count:N0} sent to the dome",
                Run = async (target, cancel) =>
                {
                    // The dome takes 3 s; in ?dome=slow 40 s, and in ?dome=stuck it does not turn.
                    var pause = query["dome"] == "slow" ? 2_000 : 150;
                    for (var part = 1; part <= 20; part++)
                    {
                        await Task.Delay(pause, cancel);
                        target.Progress.Report(part / 20.0);
                        if (part == 8 && query["dome"] == "stuck") throw new InvalidOperationException("The dome does not turn.");
                    }
                    return new(target.Count);
                },
            },
        ];
        if (name == "archive") ReadOn(list, plan);
        if (name == "clipboard") Exchange(list, plan);
        return list;

        void AskAgain(IReadOnlyList<Request> requests, bool asks)
        {
            foreach (var request in requests) request.AsksAgain = asks;
            list.Refresh();
        }
    }

    /// <summary>Requests go to other programs as lines of text, and come from them: each line a field, a comma, and who asks.</summary>
    private static void Exchange(InteractiveList<Request, RequestId> list, List<Request> plan)
    {
        var made = plan.Where(r => r.Id.Series == 'N').Select(r => r.Id.Number + 1).DefaultIfEmpty().Max();
        static string Line(Request r) => $"{r.Field}, {r.Requester}";
        list.CopyAs = requests => TransferData.OfLines(requests.Select(Line)).With(
            TransferData.Html, $"<ul>{string.Concat(requests.Select(r => $"<li>{WebUtility.HtmlEncode(Line(r))}</li>"))}</ul>");
        list.CutCommand = "withdraw";
        list.CanInsert = offer => offer.HasFiles || offer.Has(TransferData.PlainText);
        list.InsertRequested += async (_, came) =>
        {
            var text = came.Data.Text ?? "";
            foreach (var file in came.Data.Files) text += "\n" + await file.ReadTextAsync();
            var requests = new List<Request>();
            foreach (var line in text.Split('\n', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries))
                if (line.Split(',', StringSplitOptions.TrimEntries) is [{ Length: > 0 } field, { Length: > 0 } requester])
                    requests.Add(new(new('N', made++), Words.Of(field), Words.Of(requester), 9));
            if (requests.Count == 0) came.Refuse("No request in it: write a field, a comma, and who asks");
            else came.Insert(requests);
        };
    }

    /// <summary>Reads an archive of 2,000 requests in pages of 200, as the end comes near. It is slow, and fails once.</summary>
    private static void ReadOn(InteractiveList<Request, RequestId> list, List<Request> plan)
    {
        // Where to read on: what was withdrawn meanwhile is gone from the plan, and not from the archive.
        var (reads, next) = (0, plan.Count);
        list.MoreWanted += async (_, _) =>
        {
            await Task.Delay(300);
            if (++reads == 3)
            {
                list.More = More.Failed("The archive does not answer");
                return;
            }
            plan.AddRange(Plan.Make(Math.Min(next + 200, 2000), next));
            next = Math.Min(next + 200, 2000);
            list.Refresh();
            list.More = next < 2000 ? More.ToCome : More.None;
        };
        list.More = More.ToCome;
        list.Commands = list.Commands.Add(new("again", "Read again")
        {
            Scope = CommandScope.List,
            Chords = [new("R", Modifiers.Alt)],
            Icon = "retry",
            Run = async (_, cancel) =>
            {
                await Task.Delay(600, cancel);
                plan.Clear();
                plan.AddRange(Plan.Make(200));
                next = 200;
                list.Refresh();
                list.More = More.ToCome;
                return new(plan.Count);
            },
        });
        list.PullCommand = "again";
    }

    /// <summary>A list as the tool's list file, as large as it is shown.</summary>
    public static string ListFile(InteractiveList<Request, RequestId> list)
    {
        (string Name, ShowIn Place)[] places = [("menu", ShowIn.Menu), ("leading", ShowIn.LeadingTray),
            ("trailing", ShowIn.TrailingTray), ("toolbar", ShowIn.Toolbar)];
        var parts = list.Options.Parts;
        var file = new JsonObject
        {
            ["title"] = list.Title,
            ["rows"] = new JsonArray([.. Enumerable.Range(0, list.Count).Select(i => list[i]).Select(r => (JsonNode?)new JsonObject
            {
                ["id"] = r.Id.ToString(), ["field"] = r.Field, ["requester"] = r.Requester, ["night"] = r.Night, ["starred"] = r.IsStarred,
            })]),
            ["key"] = "id",
            ["label"] = "{field}",
            ["detail"] = "{requester}",
            ["mod"] = list.Options.ModKey == ModKey.Meta ? "meta" : "ctrl",
            ["mode"] = list.Options.Mode == SelectionMode.Multiple ? "multiple" : "single",
            ["mayMove"] = list.Options.MayMove,
            ["rightToLeft"] = list.Options.IsRightToLeft,
            ["longPress"] = list.Options.LongPress == LongPressMeaning.StartSelecting ? "start-selecting" : "menu",
            ["parts"] = new JsonArray(
                [.. parts.Check ? (string[])["check"] : [], .. parts.Marks.Select(m => "mark:" + m),
                    .. parts.Handle ? (string[])["handle"] : []]),
            ["marks"] = new JsonArray(
                [.. list.Marks.Select(
                    m => (JsonNode?)new JsonObject
                    {
                        ["name"] = m.Name,
                        ["label"] = m.Label,
                        ["look"] = m.Look.ToString().ToLowerInvariant(),
                        ["onWhen"] = new JsonObject { [m.Name] = true },
                    })]),
            ["commands"] = new JsonArray([.. list.Commands.Select(c => (JsonNode?)new JsonObject
            {
                ["id"] = c.Id, ["label"] = c.Label, ["role"] = c.Role.ToString().ToLowerInvariant(),
                    ["shows"] = new JsonArray([.. places.Where(p => c.ShowIn.HasFlag(p.Place)).Select(p => (JsonNode?)p.Name)]),
                        ["swipesThrough"] = c.SwipesThrough, ["does"] = c.Id == "withdraw" ? "remove" : "nothing",
            })]),
            ["selected"] = new JsonArray([.. list.SelectedKeys.Select(k => (JsonNode?)k.ToString())]),
            ["viewport"] = new JsonObject
            {
                ["width"] = list.Viewport.Width,
                ["height"] = list.Viewport.Height,
                ["scrollTop"] = list.Viewport.ScrollTop,
            },
        };
        if (list.Sections is not null)
            file["sections"] = new JsonObject
            {
                ["by"] = "night",
                ["order"] = new JsonArray("tonight", "later"),
                ["empty"] = "Nothing here",
            };
        return file.ToJsonString();
    }
}
