using System.Net;
using System.Net.Sockets;
using System.Text.RegularExpressions;
using Lectica.Tests.House;

namespace Lectica.Tests.Page;

/// <summary>Serves the published page from a loopback address, and nothing else.</summary>
internal sealed partial class PageServer : IDisposable
{
    private static readonly Dictionary<string, string> Types = new()
    {
        [".html"] = "text/html",
        [".js"] = "text/javascript",
        [".css"] = "text/css",
        [".json"] = "application/json",
        [".wasm"] = "application/wasm",
        [".png"] = "image/png",
    };

    private readonly HttpListener _listener = new();
    private readonly string _folder;

    /// <summary>Where test.sh has published the page to.</summary>
    public static string Folder => Repository.At("artifacts", "page", "wwwroot");

    public PageServer(string? folder = null)
    {
        _folder = folder ?? Folder;
        if (!File.Exists(Path.Combine(_folder, "index.html")))
            throw new InvalidOperationException($"{_folder} has no index.html: publish the page first, as test.sh does.");
        using (var probe = new TcpListener(IPAddress.Loopback, 0))
        {
            probe.Start();
            Address = $"http://127.0.0.1:{((IPEndPoint)probe.LocalEndpoint).Port}/";
        }
        _listener.Prefixes.Add(Address);
        _listener.Start();
        _ = Task.Run(Serve);
    }

    public string Address { get; }

    private async Task Serve()
    {
        while (_listener.IsListening)
        {
            HttpListenerContext context;
            try
            {
                context = await _listener.GetContextAsync();
            }
            catch (Exception e) when (e is HttpListenerException or ObjectDisposedException)
            {
                return;
            }
            _ = Task.Run(() => Answer(context));
        }
    }

    private void Answer(HttpListenerContext context)
    {
        var path = context.Request.Url!.AbsolutePath.TrimStart('/');
        var file = Path.GetFullPath(Path.Combine(_folder, path.Length == 0 ? "index.html" : path));
        using var response = context.Response;
        if (!file.StartsWith(_folder, StringComparison.Ordinal) || !File.Exists(file))
        {
            response.StatusCode = 404;
            return;
        }
        response.ContentType = Types.GetValueOrDefault(Path.GetExtension(file), "application/octet-stream");
        // As a web server does: what has its content's hash in its name is kept, and what is compressed already goes out so.
        if (Hashed().IsMatch(file)) response.Headers["Cache-Control"] = "public, max-age=31536000, immutable";
        if (context.Request.Headers["Accept-Encoding"]?.Contains("br", StringComparison.Ordinal) == true && File.Exists(file + ".br"))
        {
            response.Headers["Content-Encoding"] = "br";
            file += ".br";
        }
        var bytes = File.ReadAllBytes(file);
        response.ContentLength64 = bytes.Length;
        response.OutputStream.Write(bytes);
    }

    public void Dispose() => _listener.Close();

    [GeneratedRegex(@"\.[0-9a-z]{10}\.(wasm|js)$")]
    private static partial Regex Hashed();
}
