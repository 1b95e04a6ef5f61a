using System.Diagnostics;
using System.IO.Compression;
using System.Xml.Linq;
using Lectica.Tests.Page;

namespace Lectica.Tests.House;

/// <summary>The packages as a stranger gets them: what they carry, and that they work far from here.</summary>
[Collection("page")]
public sealed class PackageTests(PageFixture fixture) : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("lectica-packages-").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private string At(params string[] path) => Path.Combine([_folder, .. path]);

    private static (int Code, string Told) Run(string file, string folder, params string[] args)
    {
        var start = new ProcessStartInfo(file, args)
        {
            WorkingDirectory = folder,
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        // Not this build's own settings.
        foreach (var name in new[] { "MSBUILD_EXE_PATH", "MSBuildSDKsPath", "MSBuildExtensionsPath" }) start.Environment.Remove(name);
        using var process = Process.Start(start)!;
        var error = process.StandardError.ReadToEndAsync();
        var told = process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        return (process.ExitCode, told + error.GetAwaiter().GetResult());
    }

    private static string Done(string file, string folder, params string[] args)
    {
        var (code, told) = Run(file, folder, args);
        Assert.True(code == 0, $"{file} {string.Join(' ', args)}: exit code {code}\n{told}");
        return told;
    }

    private void Write(string path, string text)
    {
        Directory.CreateDirectory(Path.GetDirectoryName(At(path))!);
        File.WriteAllText(At(path), text);
    }

    // Those of others are the ones that this build has.
    private static string VersionOf(string package) => package.StartsWith("Lectica", StringComparison.Ordinal) ? "0.1.0"
        : XDocument.Load(Repository.At("Directory.Packages.props")).Descendants("PackageVersion")
        .First(v => (string?)v.Attribute("Include") == package).Attribute("Version")!.Value;

    /// <summary>A project as a stranger begins it.</summary>
    private void Fresh(string name, string sdk, string properties, string[] packages, params (string Path, string Text)[] files)
    {
        Write($"{name}/{name}.csproj", $"""
            <Project Sdk="{sdk}">
              <PropertyGroup>
                <TargetFramework>net10.0</TargetFramework><Nullable>enable</Nullable><ImplicitUsings>enable</ImplicitUsings>{properties}
              </PropertyGroup>
              <ItemGroup>
                {string.Concat(packages.Select(p => $"<PackageReference Include=\"{p}\" Version=\"{VersionOf(p)}\" />"))}
              </ItemGroup>
            </Project>
            """);
        foreach (var (path, text) in files) Write($"{name}/{path}", text);
    }

    /// <summary>The list of a page shows, and is the browser's to work with.</summary>
    private async Task Selects(string address)
    {
        await using var context = await fixture.Browser.NewContextAsync();
        var page = await context.NewPageAsync();
        await page.GotoAsync(address);
        var row = page.Locator(".lectica-row", new() { HasTextString = "Orvane Cluster" });
        await row.WaitForAsync(new() { Timeout = 60_000 });
        // Drawn on a server it answers a little later.
        for (var i = 0; i < 50 && await row.GetAttributeAsync("aria-selected") != "true"; i++)
        {
            await row.ClickAsync();
            await page.WaitForTimeoutAsync(200);
        }
        Assert.Equal("true", await row.GetAttributeAsync("aria-selected"));
    }

    [Fact]
    public async Task Packages_carry_what_they_should_and_work_in_fresh_projects_and_as_a_tool()
    {
        string[] projects =
            ["Lectica", "Lectica.Testing", "Lectica.Storage", "Lectica.Queries", "Lectica.Skia", "Lectica.Blazor", "Lectica.Cli"];
        foreach (var project in projects)
            Done("dotnet", Repository.Root, "pack", $"src/{project}", "-c", "Release", "-o", At("packages"), "--nologo", "-v", "q");
        // The tool's first package only leads to those with its programs, one for each kind of machine.
        string[] programs = ["Lectica.Cli.linux-x64", "Lectica.Cli.linux-arm64"];
        foreach (var project in projects.Concat(programs))
        {
            using var package = ZipFile.OpenRead(At("packages", $"{project}.0.1.0.nupkg"));
            var names = package.Entries.Select(e => e.FullName).ToHashSet();
            Assert.Superset(new HashSet<string> { "package.md", "icon.png", "LICENSE" }, names);
            if (project == "Lectica.Skia" || programs.Contains(project)) Assert.Contains("OFL.txt", names);
            using var spec = new StreamReader(package.GetEntry($"{project}.nuspec")!.Open());
            var said = spec.ReadToEnd();
            foreach (var field in new[] { "<readme>package.md", "<icon>icon.png", "<license type=\"expression\">MIT", "<tags>",
                "<repository type=\"git\"", "<description>" }) Assert.Contains(field, said);
            Assert.True(
                project == "Lectica.Cli" || File.Exists(At("packages", $"{project}.0.1.0.snupkg")), $"{project} has no symbols");
        }
        foreach (var program in programs) Assert.InRange(new FileInfo(At("packages", $"{program}.0.1.0.nupkg")).Length, 1, 14_999_999);
        Assert.InRange(new FileInfo(At("packages", "Lectica.Cli.0.1.0.nupkg")).Length, 1, 99_999);

        // From this folder alone, and into a cache of its own; what is Microsoft's is taken from where this build has it.
        var known = Environment.GetEnvironmentVariable("NUGET_PACKAGES")
            ?? Path.Combine(Environment.GetFolderPath(Environment.SpecialFolder.UserProfile), ".nuget", "packages");
        Write("nuget.config", $"""
            <configuration>
              <packageSources><clear /><add key="here" value="{At("packages")}" /></packageSources>
              <fallbackPackageFolders><add key="known" value="{known}" /></fallbackPackageFolders>
              <config><add key="globalPackagesFolder" value="{At("cache")}" /></config>
            </configuration>
            """);
        var five = string.Join(
            '\n', File.ReadLines(Repository.At("examples", "five-lines.cs")).Where(l => !l.StartsWith("#:", StringComparison.Ordinal)));
        Fresh("console", "Microsoft.NET.Sdk", "<OutputType>Exe</OutputType>", ["Lectica", "Lectica.Testing"], ("app.cs", five));
        Assert.Equal("Tessil Ring is item 1\n", Done("dotnet", At("console"), "run"));

        // Ahead of time, with each warning of it an error.
        Fresh("native", "Microsoft.NET.Sdk",
            "<OutputType>Exe</OutputType><PublishAot>true</PublishAot><TreatWarningsAsErrors>true</TreatWarningsAsErrors>" +
            "<TrimmerSingleWarn>false</TrimmerSingleWarn><CppCompilerAndLinker>gcc</CppCompilerAndLinker>",
            ["Lectica", "Lectica.Testing", "Lectica.Storage"], ("app.cs", five));
        Done("dotnet", At("native"), "publish", "-r", "linux-x64", "-o", At("native", "out"), "-v", "q", "--nologo");
        Assert.Equal("Tessil Ring is item 1\n", Done(At("native", "out", "native"), _folder));

        const string list = """
            @using Lectica
            @using Lectica.Blazor
            <ListView List="_list" Id="plan" />
            @code
            {
                private readonly InteractiveList<string, Lectica.Items.ItemId> _list =
                    InteractiveList.Of(["Tessil Ring", "Orvane Cluster"], new() { Mode = Lectica.Acts.SelectionMode.Multiple });
            }
            """;
        const string head = """
            <!DOCTYPE html><html lang="en">
            <head><meta charset="utf-8"><base href="/"><link rel="stylesheet" href="_content/Lectica.Blazor/lectica.css"></head>
            """;
        Fresh("here", "Microsoft.NET.Sdk.BlazorWebAssembly", "", ["Lectica.Blazor", "Microsoft.AspNetCore.Components.WebAssembly"],
            ("App.razor", list),
            ("wwwroot/index.html",
                head + """<body><div id="app"></div><script src="_framework/blazor.webassembly.js"></script></body></html>"""),
            ("Program.cs", """
                using Microsoft.AspNetCore.Components.WebAssembly.Hosting;
                var builder = WebAssemblyHostBuilder.CreateDefault(args);
                builder.RootComponents.Add<here.App>("#app");
                await builder.Build().RunAsync();
                """));
        Done("dotnet", At("here"), "publish", "-c", "Release", "-o", At("here", "out"), "-v", "q", "--nologo");
        using (var server = new PageServer(At("here", "out", "wwwroot"))) await Selects(server.Address);

        Fresh("there", "Microsoft.NET.Sdk.Web", "", ["Lectica.Blazor"], ("Plan.razor", "@page \"/\"\n" + list),
            ("Root.razor",
                "@using static Microsoft.AspNetCore.Components.Web.RenderMode\n@using Microsoft.AspNetCore.Components.Web\n" + head +
                    """<body><Plan @rendermode="InteractiveServer" /><script src="_framework/blazor.web.js"></script></body></html>"""),
            ("Program.cs", """
                var builder = WebApplication.CreateBuilder(args);
                builder.Services.AddRazorComponents().AddInteractiveServerComponents();
                var app = builder.Build();
                app.UseAntiforgery();
                app.MapStaticAssets();
                app.MapRazorComponents<there.Root>().AddInteractiveServerRenderMode();
                app.Run();
                """));
        Done("dotnet", At("there"), "build", "-v", "q", "--nologo");
        var start = new ProcessStartInfo("dotnet", ["run", "--no-build", "--urls", "http://127.0.0.1:0"])
        {
            WorkingDirectory = At("there"),
            RedirectStandardOutput = true,
        };
        start.Environment["ASPNETCORE_ENVIRONMENT"] = "Development";
        using (var server = Process.Start(start)!)
        {
            try
            {
                var address = "";
                while (address.Length == 0 && await server.StandardOutput.ReadLineAsync(TestContext.Current.CancellationToken) is { } line)
                    if (line.IndexOf("Now listening on: ", StringComparison.Ordinal) is >= 0 and var at) address = line[(at + 18)..].Trim();
                await Selects(address);
            }
            finally
            {
                server.Kill(entireProcessTree: true);
            }
        }

        Done("dotnet", _folder, "tool", "install", "Lectica.Cli", "--version", "0.1.0", "--tool-path", At("tool"));
        Directory.CreateDirectory(At("elsewhere"));
        var ran = 0;
        foreach (var command in new[] { "demo", "play", "why", "tune", "draw", "keys", "sample" })
            foreach (var line in Done(At("tool", "lectica"), At("elsewhere"), command, "--help").Split('\n').Select(l => l.Trim())
                .Where(l => l.StartsWith("lectica ", StringComparison.Ordinal) && !l.Contains('[')))
            {
                Done(At("tool", "lectica"), At("elsewhere"), line.Split(' ')[1..]);
                ran++;
            }
        Assert.True(ran >= 8, $"{ran} examples ran");
    }
}
