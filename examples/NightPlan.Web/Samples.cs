using System.Collections.Specialized;
using System.Globalization;
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
        var plain = name == "plain";
        var options = new ListOptions
        {
            Title = "Tonight, in order",
            Mode = plain ? SelectionMode.Single : SelectionMode.Multiple,
            MayMove = !plain,
            ModKey = ModKey.Ctrl,
            Overscan = 200,
            ChecksKeys = rows <= 100_000,
            IsRightToLeft = query["dir"] == "rtl",
            LongPress = query["press"] == "select" ? LongPressMeaning.StartSelecting : LongPressMeaning.Menu,
            Parts = plain ? new() : new() { Check = true, Marks = ["starred"], Handle = true },
        };
        var plan = Plan.Make(rows);
        var list = InteractiveList.Of(plan, r => r.Id, options);
        list.Content = r => new(r.Field, $"{r.Requester} · magnitude {r.Magnitude.ToString("0.0", CultureInfo.InvariantCulture)}");
        if (plain) return list;
        list.Marks = [new("starred") { Label = "Starred", Look = MarkLook.Star, Get = r => r.IsStarred, Set = (r, on) => r.IsStarred = on }];
        if (name == "sections") list.Sections = new(r => r.Night) { Order = ["tonight", "later"], TitleOf = key => key == "tonight" ? "Tonight" : "Later", EmptyText = _ => "Nothing here", Assign = (r, night) => r.Night = night };
        list.Commands =
        [
            new("star", "Star") { Shows = CommandPlaces.LeadingTray, SwipesThrough = true, Role = CommandRole.Positive, Do = target => list.ToggleMarkOf("starred", target.Keys) },
            new("drop", "Drop")
            {
                Shows = CommandPlaces.TrailingTray, SwipesThrough = true, Role = CommandRole.Destructive, Group = "lose", Chords = [new("Delete")], Notice = target => $"{target.Items.Count} dropped",
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
            new("defer", "Defer") { Shows = CommandPlaces.TrailingTray, Role = CommandRole.Warning, Do = _ => { } },
        ];
        return list;
    }
}
