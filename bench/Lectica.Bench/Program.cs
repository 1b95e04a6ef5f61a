using BenchmarkDotNet.Configs;
using BenchmarkDotNet.Jobs;
using BenchmarkDotNet.Running;
using BenchmarkDotNet.Toolchains.InProcess.Emit;
using Lectica.Bench;

// `figures`, `lists`, `tiles`, `outline`, `traces`, `queries` and `page` print the tables of bench/README.md; everything else goes to
// BenchmarkDotNet, such as --filter '*'.
if (args is ["tiles", ..])
{
    Console.WriteLine(new TileFigures().Run());
    return;
}
if (args is ["outline", ..])
{
    Console.WriteLine(new OutlineFigures().Run());
    return;
}
if (args is ["figures", ..])
{
    var n = args.Length > 1 && int.TryParse(args[1], System.Globalization.CultureInfo.InvariantCulture, out var items) && items >= 100_000
        ? items : 10_000_000;
    Console.WriteLine(new Figures(n).Run());
    return;
}
if (args is ["lists", ..])
{
    Console.WriteLine(new LiveFigures().Run());
    return;
}
if (args is ["traces", ..])
{
    Console.WriteLine(
        TraceFigures.Run(
            args.Length > 1 && int.TryParse(args[1], System.Globalization.CultureInfo.InvariantCulture, out var count) && count > 0 ? count
                : 40_000));
    return;
}
if (args is ["queries", ..])
{
    Console.WriteLine(
        new QueryFigures(
            args.Length > 1 && int.TryParse(args[1], System.Globalization.CultureInfo.InvariantCulture, out var rows) && rows >= 100_000
                ? rows : 10_000_000).Run());
    return;
}
if (args is ["page", ..])
{
    // `page start` has only the start, `page tasks` the long tasks, `page memory` ten minutes of acts.
    Console.WriteLine(await PageFigures.Run(args.Length > 1 ? args[1] : null));
    return;
}
// In this process, so that a row and its baseline share one heap and one state of the machine.
BenchmarkSwitcher.FromAssembly(typeof(Program).Assembly)
    .Run(args, DefaultConfig.Instance.AddJob(Job.ShortRun.WithToolchain(InProcessEmitToolchain.Instance)));
