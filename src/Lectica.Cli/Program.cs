using Lectica.Cli;

return Tool.Run(args, Console.OpenStandardOutput());
