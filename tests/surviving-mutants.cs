// Tries each change that nothing noticed once more, in a process of its own. dotnet-stryker lets one process run the tests for many
// changes, so that those in code that runs once, when the program is loaded, never come into force: tables above all. tests/mutants.sh runs
// "dotnet run tests/surviving-mutants.cs -- REPORT.json TESTS.dll", where the tests lie beside the assembly that has all changes in it.
#:property PublishAot=false
#:property RestorePackagesWithLockFile=false
#:property RunAnalyzers=false
using System.Diagnostics;
using System.Text.Json.Nodes;

var (reportFile, tests) = (args[0], args[1]);
var report = JsonNode.Parse(File.ReadAllText(reportFile))!;
var mutants = report["files"]!.AsObject().SelectMany(f => f.Value!["mutants"]!.AsArray()).Select(m => m!.AsObject())
    .Where(m => (string)m["status"]! is not ("Ignored" or "CompileError" or "RuntimeError")).ToList();
var survivors = mutants.Where(m => (string)m["status"]! is "Survived" or "NoCoverage").ToList();
var patience = TimeSpan.FromMinutes(2);
if (await Try(-1) != "Survived") throw new InvalidOperationException("The tests do not pass with no change in force.");
await Parallel.ForEachAsync(survivors, new ParallelOptions { MaxDegreeOfParallelism = Environment.ProcessorCount }, async (mutant, _) =>
    mutant["status"] = await Try(int.Parse((string)mutant["id"]!)));
File.WriteAllText(reportFile, report.ToJsonString());

int Count(string status) => mutants.Count(m => (string)m["status"]! == status);
var (noticed, late) = (Count("Killed"), Count("Timeout"));
Console.WriteLine(
    $"{mutants.Count} changes, {noticed} noticed by a test and {late} by time: {100.0 * (noticed + late) / mutants.Count:0.0} %. Of " +
        $"{survivors.Count} that were tried once more {survivors.Count(m => (string)m["status"]! != "Survived")} were noticed then.");
foreach (var (file, content) in report["files"]!.AsObject())
    foreach (var mutant in content!["mutants"]!.AsArray().Where(m => (string)m!["status"]! == "Survived"))
        Console.WriteLine($"{Path.GetFileName(file)} {mutant!["location"]!["start"]!["line"]}: {mutant["replacement"]}");

// The tester's own switch: a file with the number of the change that is in force.
async Task<string> Try(int id)
{
    var active = Path.GetTempFileName();
    File.WriteAllBytes(active, BitConverter.GetBytes(id));
    try
    {
        var start = new ProcessStartInfo("dotnet", [tests, "-noColor", "-stopOnFail"])
        {
            RedirectStandardOutput = true,
            RedirectStandardError = true,
        };
        start.Environment["STRYKER_MUTANT_FILE"] = active;
        using var process = Process.Start(start)!;
        var (output, errors) = (process.StandardOutput.ReadToEndAsync(), process.StandardError.ReadToEndAsync());
        try
        {
            await process.WaitForExitAsync(new CancellationTokenSource(patience).Token);
        }
        catch (OperationCanceledException)
        {
            process.Kill(entireProcessTree: true);
            return "Timeout";
        }
        await Task.WhenAll(output, errors);
        return process.ExitCode == 0 ? "Survived" : "Killed";
    }
    finally
    {
        File.Delete(active);
    }
}
