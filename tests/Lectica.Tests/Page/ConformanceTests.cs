using System.Diagnostics;
using System.Net;
using System.Net.Http.Json;
using System.Net.Sockets;
using System.Text.Json;
using System.Text.Json.Nodes;
using Lectica.Examples.NightPlan;
using Lectica.Layout;
using Lectica.Testing;
using Lectica.Tracing;

namespace Lectica.Tests.Page;

/// <summary>
/// One truth: what scripts do to a list by itself they do to the page as well, driven by chromedriver over the W3C WebDriver protocol.
/// </summary>
[Collection("page")]
public sealed class ConformanceTests(PageFixture fixture, ITestOutputHelper output)
{
    [Theory]
    [InlineData("plan", 40)]
    [InlineData("outline", 45)]
    [InlineData("tiles", 38)]
    [InlineData("strip", 50)]
    public async Task The_component_does_what_every_host_must(string sample, int scripts)
    {
        await using var host = await PageHost.Start($"{fixture.Address}?sample={sample}&item=58");
        var (width, height) = await host.Size();
        var run = new Conformance<Request, RequestId>(() =>
        {
            var list = Samples.Open(sample, new() { ["item"] = "58" });
            // As large as the page shows it.
            list.Resize(width, height);
            return list;
        });
        Assert.True(run.Scripts.Count() >= scripts, $"{run.Scripts.Count()} scripts");
        var wrong = new List<string>();
        foreach (var script in run.Scripts)
        {
            // A driver that has been too late for a double tap or a hold is asked once more; a host that is wrong is wrong again.
            var difference = await Once(script);
            if (difference is not null)
            {
                output.WriteLine($"again: {script.File}: {difference}");
                difference = await Once(script);
            }
            if (difference is not null) wrong.Add($"{script.File}: {difference}");
        }
        async Task<string?> Once(ActionScript script)
        {
            try
            {
                return await run.Run(host, script);
            }
            catch (InvalidOperationException e)
            {
                return e.Message[..Math.Min(300, e.Message.Length)];
            }
        }
        output.WriteLine($"{run.Scripts.Count()} scripts");
        Assert.True(wrong.Count == 0, string.Join("\n", wrong));
    }

    /// <summary>The page under chromedriver.</summary>
    private sealed class PageHost : IConformingHost, IAsyncDisposable
    {
        private const string ElementKey = "element-6066-11e4-a52e-4f735466cecf";
        private readonly HttpClient _http = new() { Timeout = TimeSpan.FromSeconds(90) };
        private Process _driver = null!;
        private string _session = "", _address = "", _page = "";

        public static async Task<PageHost> Start(string page)
        {
            int port;
            using (var probe = new TcpListener(IPAddress.Loopback, 0))
            {
                probe.Start();
                port = ((IPEndPoint)probe.LocalEndpoint).Port;
            }
            var host = new PageHost { _address = $"http://127.0.0.1:{port}", _page = page };
            host._driver = Process.Start(new ProcessStartInfo("/usr/bin/chromedriver", $"--port={port} --log-level=OFF")
            {
                RedirectStandardOutput = true,
                RedirectStandardError = true,
            })!;
            for (var i = 0; ; i++)
            {
                try
                {
                    var status = await host._http.GetFromJsonAsync<JsonObject>(host._address + "/status");
                    if ((bool)status!["value"]!["ready"]!) break;
                }
                catch (HttpRequestException) when (i < 100)
                {
                }
                await Task.Delay(100);
            }
            var made = await host.Send(HttpMethod.Post, "/session", new JsonObject
            {
                ["capabilities"] = new JsonObject
                {
                    ["alwaysMatch"] = new JsonObject
                    {
                        ["goog:chromeOptions"] = new JsonObject
                        {
                            ["binary"] = "/usr/bin/chromium",
                            ["args"] = new JsonArray(
                                "--headless=new", "--no-sandbox", "--disable-gpu", "--window-size=700,900", "--touch-events=enabled"),
                        },
                    },
                },
            });
            host._session = "/session/" + (string)made!["sessionId"]!;
            await host.Send(HttpMethod.Post, host._session + "/url", new JsonObject { ["url"] = page });
            for (var i = 0; i < 300 && (bool)(await host.Run("return !document.querySelector('#app > main')"))!; i++) await Task.Delay(200);
            return host;
        }

        private async Task<JsonNode?> Send(HttpMethod method, string path, JsonNode? body = null)
        {
            using var request = new HttpRequestMessage(method, _address + path);
            if (method == HttpMethod.Post)
                request.Content =
                    new StringContent((body ?? new JsonObject()).ToJsonString(), System.Text.Encoding.UTF8, "application/json");
            using var response = await _http.SendAsync(request);
            var answer = await response.Content.ReadFromJsonAsync<JsonObject>();
            return response.IsSuccessStatusCode ? answer!["value"] : throw new InvalidOperationException($"{path}: {answer}");
        }

        private Task<JsonNode?> Run(string script) =>
            Send(HttpMethod.Post, _session + "/execute/sync", new JsonObject { ["script"] = script, ["args"] = new JsonArray() });

        public async Task<(double Width, double Height)> Size() =>
            ((double)(await Run("return document.getElementById('plan').clientWidth"))!,
            (double)(await Run("return document.getElementById('plan').clientHeight"))!);

        public async Task Open()
        {
            await Run("DotNet.invokeMethod('NightPlan.Web', 'Reset'); document.activeElement.blur();");
            await Task.Delay(150);
            await Run("document.getElementById('plan').scrollTop = 0; document.getElementById('plan').focus(); " +
                "DotNet.invokeMethod('NightPlan.Web', 'Trace');");
        }

        public async Task Play(ActionScript script)
        {
            // In one call up to a part that is only there when what came before is done.
            var json = JsonNode.Parse(script.ToJson())!;
            var sources = json["actions"]!.AsArray();
            var from = 0;
            for (var at = 0; at <= script.Ticks; at++)
            {
                var needsTray = at < script.Ticks
                    && sources.Any(
                    s => at < s!["actions"]!.AsArray().Count
                        && ((string?)s["actions"]![at]!["origin"])?.StartsWith("tray:", StringComparison.Ordinal) == true);
                if (at < script.Ticks && !needsTray) continue;
                await Perform(sources, from, at);
                from = at;
            }
        }

        private async Task Perform(JsonArray sources, int from, int to)
        {
            var part = new JsonArray();
            foreach (var source in sources)
            {
                var some = source!.DeepClone();
                var actions = new JsonArray();
                foreach (var action in some["actions"]!.AsArray().Skip(from).Take(to - from))
                {
                    var one = action!.DeepClone();
                    if ((string?)one["origin"] is { } origin and not ("viewport" or "pointer")) one["origin"] = await Element(origin);
                    foreach (var name in (string[])["x", "y", "duration"])
                        if (one[name] is { } number) one[name] = (int)Math.Round((double)number);
                    actions.Add(one);
                }
                some["actions"] = actions;
                part.Add(some);
            }
            await Send(HttpMethod.Post, _session + "/actions", new JsonObject { ["actions"] = part });
        }

        private async Task<JsonNode> Element(string origin)
        {
            var target = RowTarget.Parse(origin);
            var row = $".lectica-row[data-key='{target.Key}']";
            var css = target.Part.Kind == PartKind.Body ? row : $"{row} [data-part='{target.Part}']";
            var found = await Send(HttpMethod.Post, _session + "/element", new JsonObject { ["using"] = "css selector", ["value"] = css });
            return new JsonObject { [ElementKey] = (string)found![ElementKey]! };
        }

        public async Task<ScriptOutcome> Outcome()
        {
            await Task.Delay(250);
            await Send(HttpMethod.Delete, _session + "/actions");
            await Task.Delay(100);
            var trace = (string)(await Run("return DotNet.invokeMethod('NightPlan.Web', 'Trace')"))!;
            var state = (TracedState)TraceLine.Parse((string)(await Run("return DotNet.invokeMethod('NightPlan.Web', 'State')"))!);
            return new([.. trace.Split('\n', StringSplitOptions.RemoveEmptyEntries).Select(TraceLine.Parse).OfType<TracedAct>()],
                state);
        }

        public async ValueTask DisposeAsync()
        {
            // The session ends before its driver, so that no browser is left.
            if (_session.Length > 0) await Send(HttpMethod.Delete, _session);
            _driver.Kill(entireProcessTree: true);
            _driver.Dispose();
            _http.Dispose();
        }
    }
}
