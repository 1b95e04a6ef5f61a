using System.Runtime.InteropServices.JavaScript;
using System.Text.Json;
using System.Text.Json.Nodes;

namespace Lectica.Examples.NightPlan;

/// <summary>
/// The requests themselves, kept for as long as the tab is there, as an app keeps its data: what is withdrawn stays withdrawn over a
/// reload, and what is starred stays starred. What is selected, and the rest of what the list knows, is kept by <c>BrowserSnapshot</c>.
/// </summary>
internal static partial class PlanStore
{
    /// <summary>The requests that were kept under a name; null where none were.</summary>
    public static List<Request>? Read(string name)
    {
        try
        {
            return Get(Key(name)) is { } text ? [.. JsonNode.Parse(text)!.AsArray().Select(Of)] : null;
        }
        catch (Exception e) when (e is JSException or JsonException or InvalidOperationException or FormatException)
        {
            // A browser may keep nothing for a site, and scripts may write there what they like. Then the plan begins anew.
            Console.Error.WriteLine($"The plan that was kept cannot be read: {e.Message}");
            return null;
        }
    }

    /// <summary>Writes the requests, where there are any to keep, whenever the page is hidden or left.</summary>
    public static void KeepOnLeaving(Func<(string Name, List<Request>? Requests)> plan)
    {
        Listen("visibilitychange", Keep);
        Listen("pagehide", Keep);

        void Keep()
        {
            var (name, requests) = plan();
            try
            {
                if (requests is not null) Set(Key(name), new JsonArray([.. requests.Select(NodeOf)]).ToJsonString());
            }
            catch (JSException e)
            {
                Console.Error.WriteLine($"The plan is not kept: {e.Message}");
            }
        }
    }

    /// <summary>Forgets them.</summary>
    public static void Forget(string name)
    {
        try
        {
            Remove(Key(name));
        }
        catch (JSException)
        {
            // A browser that keeps nothing has nothing to forget.
        }
    }

    private static string Key(string name) => $"{name}, the requests";

    private static JsonNode NodeOf(Request r) => new JsonObject
    {
        ["id"] = r.Id.ToString(),
        ["field"] = r.Field,
        ["requester"] = r.Requester,
        ["magnitude"] = r.Magnitude,
        ["wish"] = r.Wish,
        ["isForLater"] = r.IsForLater,
        ["below"] = r.Below?.ToString(),
        ["isStarred"] = r.IsStarred,
        ["asksAgain"] = r.AsksAgain,
    };

    private static Request Of(JsonNode? node)
    {
        string Text(string property) => Value(property).GetValue<string>();
        JsonNode Value(string property) => node?[property] ?? throw new FormatException($"A request has no '{property}'.");
        return new(RequestId.Parse(Text("id")), Words.Of(Text("field")), Words.Of(Text("requester")), Value("magnitude").GetValue<double>(),
            Words.Of(Text("wish")))
        {
            IsForLater = Value("isForLater").GetValue<bool>(),
            Below = (string?)node!["below"] is { } above ? RequestId.Parse(above) : null,
            IsStarred = Value("isStarred").GetValue<bool>(),
            AsksAgain = Value("asksAgain").GetValue<bool>(),
        };
    }

    [JSImport("globalThis.sessionStorage.getItem")]
    private static partial string? Get(string key);

    [JSImport("globalThis.sessionStorage.setItem")]
    private static partial void Set(string key, string text);

    [JSImport("globalThis.sessionStorage.removeItem")]
    private static partial void Remove(string key);

    [JSImport("globalThis.addEventListener")]
    private static partial void Listen(string type, [JSMarshalAs<JSType.Function>] Action handler);
}
