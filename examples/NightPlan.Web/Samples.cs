using System.Collections.Specialized;
using System.Globalization;
using System.Text.Json.Nodes;
using Lectica.Acts;
using Lectica.Commands;
using Lectica.Input;
using Lectica.Marking;

namespace Lectica.Examples.NightPlan;

/// <summary>The lists that the page shows, by name: the query's <c>sample</c>; <c>rows</c> is how many requests there are.</summary>
internal static class Samples
{
    public static InteractiveList<Request, string> Open(string name, NameValueCollection query)
    {
        var rows = int.TryParse(query["rows"], NumberStyles.Integer, CultureInfo.InvariantCulture, out var given) ? given : 24;
        var plain = name is "plain" or "notes";
        var options = new ListOptions
        {
            Title = "Tonight, in order",
            Mode = name == "plain" ? SelectionMode.Single : SelectionMode.Multiple,
            MayMove = name != "plain",
            ModKey = ModKey.Ctrl,
            Overscan = 200,
            ChecksKeys = rows <= 100_000,
            IsRightToLeft = query["dir"] == "rtl",
            LongPress = query["press"] == "select" ? LongPressMeaning.StartSelecting : LongPressMeaning.Menu,
            Parts = plain ? new() : new() { Check = true, Marks = ["starred"], Handle = true },
        };
        var plan = Plan.Make(rows);
        var list = InteractiveList.Of(plan, r => r.Id, options);
        list.Content = r => new(r.Field, $"{r.Requester} · magnitude {r.Magnitude.ToString("0.0", CultureInfo.InvariantCulture)}{(name == "notes" && r.Wish.Length > 0 ? ". " + r.Wish : "")}");
        if (plain) return list;
        list.Marks = [new("starred") { Label = "Starred", Look = MarkLook.Star, Get = r => r.IsStarred, Set = (r, on) => r.IsStarred = on }];
        if (name is "sections" or "own") list.Sections = new(r => r.Night) { Order = ["tonight", "later"], TitleOf = key => key == "tonight" ? "Tonight" : "Later", EmptyText = _ => "Nothing here", Assign = (r, night) => r.Night = night };
        list.Commands =
        [
            new("star", "Star")
            {
                Shows = CommandPlaces.LeadingTray | CommandPlaces.Toolbar, Priority = 3, SwipesThrough = true, Role = CommandRole.Positive,
                Do = target =>
                {
                    list.ToggleMarkOf("starred", target.Keys);
                    foreach (var (item, key) in target.Items.Zip(target.Keys)) list.Flash(key, item.IsStarred ? "Starred" : "No star");
                },
            },
            new("drop", "Drop")
            {
                Shows = CommandPlaces.TrailingTray | CommandPlaces.Toolbar, Priority = 2, SwipesThrough = true, Role = CommandRole.Destructive, Group = "lose", Chords = [new("Delete")], Notice = target => $"{target.Items.Count} dropped",
                Do = target =>
                {
                    plan.RemoveAll(target.Items.Contains);
                    list.Refresh();
                },
                Inverse = target =>
                {
                    for (var i = 0; i < target.Items.Count; i++) plan.Insert(target.Places[i], target.Items[i]);
                    list.Refresh();
                },
            },
            new("defer", "Defer") { Shows = CommandPlaces.TrailingTray | CommandPlaces.Toolbar, Role = CommandRole.Warning, Do = _ => { } },
            new("tomorrow", "Ask again tomorrow") { Shows = CommandPlaces.Toolbar, Do = _ => { } },
            new("dome", "Send to the dome") { Shows = CommandPlaces.Toolbar, Do = _ => { } },
        ];
        return list;
    }

    /// <summary>A list as the tool's list file, as large as it is shown.</summary>
    public static string ListFile(InteractiveList<Request, string> list)
    {
        (string Name, CommandPlaces Place)[] places = [("menu", CommandPlaces.Menu), ("leading", CommandPlaces.LeadingTray), ("trailing", CommandPlaces.TrailingTray), ("toolbar", CommandPlaces.Toolbar)];
        var parts = list.Options.Parts;
        var file = new JsonObject
        {
            ["title"] = list.Title,
            ["rows"] = new JsonArray([.. Enumerable.Range(0, list.Count).Select(i => list[i]).Select(r => (JsonNode?)new JsonObject
            {
                ["id"] = r.Id, ["field"] = r.Field, ["requester"] = r.Requester, ["night"] = r.Night, ["starred"] = r.IsStarred,
            })]),
            ["key"] = "id",
            ["label"] = "{field}",
            ["detail"] = "{requester}",
            ["mode"] = list.Options.Mode == SelectionMode.Multiple ? "multiple" : "single",
            ["mayMove"] = list.Options.MayMove,
            ["rightToLeft"] = list.Options.IsRightToLeft,
            ["longPress"] = list.Options.LongPress == LongPressMeaning.StartSelecting ? "start-selecting" : "menu",
            ["parts"] = new JsonArray([.. parts.Check ? (string[])["check"] : [], .. parts.Marks.Select(m => "mark:" + m), .. parts.Handle ? (string[])["handle"] : []]),
            ["marks"] = new JsonArray([.. list.Marks.Select(m => (JsonNode?)new JsonObject { ["name"] = m.Name, ["label"] = m.Label, ["look"] = m.Look.ToString().ToLowerInvariant(), ["onWhen"] = new JsonObject { [m.Name] = true } })]),
            ["commands"] = new JsonArray([.. list.Commands.Select(c => (JsonNode?)new JsonObject
            {
                ["id"] = c.Id, ["label"] = c.Label, ["role"] = c.Role.ToString().ToLowerInvariant(), ["shows"] = new JsonArray([.. places.Where(p => c.Shows.HasFlag(p.Place)).Select(p => (JsonNode?)p.Name)]), ["swipesThrough"] = c.SwipesThrough, ["does"] = c.Id == "drop" ? "remove" : "nothing",
            })]),
            ["selected"] = new JsonArray([.. list.SelectedKeys.Select(k => (JsonNode?)k)]),
            ["viewport"] = new JsonObject { ["width"] = list.Viewport.Width, ["height"] = list.Viewport.Height, ["scrollTop"] = list.Viewport.ScrollTop },
        };
        if (list.Sections is not null) file["sections"] = new JsonObject { ["by"] = "night", ["order"] = new JsonArray("tonight", "later"), ["empty"] = "Nothing here" };
        return file.ToJsonString();
    }
}
