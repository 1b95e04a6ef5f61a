using System.Diagnostics.CodeAnalysis;
using System.Runtime.InteropServices.JavaScript;
using System.Runtime.Versioning;
using System.Text;
using Microsoft.Extensions.Logging;
using Microsoft.JSInterop;

namespace Lectica.Blazor;

/// <summary>A browser's stores for text, as the HTML Standard has them (section "Web storage").</summary>
public enum WebStorage
{
    /// <summary>For as long as the tab is there, reloads included. Each tab has its own.</summary>
    Session,

    /// <summary>Until another day. All tabs of the site share it: what the last of them wrote counts.</summary>
    Local,
}

/// <summary>
/// Such a store. Where the page runs the list all is done at once, also while the page goes; elsewhere texts go by streams, which may be
/// long.
/// </summary>
internal sealed partial class WebStore(IJSRuntime js) : IAsyncDisposable
{
    // More than a browser has room for.
    private const long MostBytes = 16L << 20;

    private readonly IJSInProcessRuntime? _here = js as IJSInProcessRuntime;
    private IJSObjectReference? _module, _watch;
    private DotNetObjectReference<Leaver>? _leaver;

    /// <summary>Whether it answers at once.</summary>
    public bool IsHere => _here is not null;

    /// <summary>Tells when the page is hidden or left: what is not written by then may never be. From elsewhere that is too late.</summary>
    public async Task WatchAsync(Action leave)
    {
        if (!IsHere) return;
        _leaver = DotNetObjectReference.Create(new Leaver(leave));
        _watch = await (await ModuleAsync()).InvokeAsync<IJSObjectReference>("watch", _leaver);
    }

    /// <summary>Reads a text; null where there is none.</summary>
    /// <exception cref="Microsoft.JSInterop.JSException">The browser keeps nothing for this site.</exception>
    [UnconditionalSuppressMessage("Trimming", "IL2026", Justification = "A text needs nothing that is trimmed away.")]
    public async ValueTask<string?> ReadAsync(WebStorage storage, string name)
    {
        if (OperatingSystem.IsBrowser()) return InBrowser.Read(storage, KeyOf(name));
        if (_here is not null) return _here.Invoke<string?>(AreaOf(storage) + ".getItem", KeyOf(name));
        await using var text = await (await ModuleAsync()).InvokeAsync<IJSStreamReference?>("read", AreaOf(storage), KeyOf(name));
        if (text is null) return null;
        using var reader = new StreamReader(await text.OpenReadStreamAsync(MostBytes));
        return await reader.ReadToEndAsync();
    }

    /// <summary>Writes a text.</summary>
    /// <exception cref="Microsoft.JSInterop.JSException">There is no room for it, or the browser keeps nothing for this site.</exception>
    public async ValueTask WriteAsync(WebStorage storage, string name, string text)
    {
        if (OperatingSystem.IsBrowser())
        {
            InBrowser.Write(storage, KeyOf(name), text);
            return;
        }
        if (_here is not null)
        {
            _here.InvokeVoid(AreaOf(storage) + ".setItem", KeyOf(name), text);
            return;
        }
        using var stream = new DotNetStreamReference(new MemoryStream(Encoding.UTF8.GetBytes(text)));
        await (await ModuleAsync()).InvokeVoidAsync("write", AreaOf(storage), KeyOf(name), stream);
    }

    /// <summary>Removes a text, if it is there.</summary>
    /// <exception cref="Microsoft.JSInterop.JSException">The browser keeps nothing for this site.</exception>
    public async ValueTask RemoveAsync(WebStorage storage, string name)
    {
        if (_here is not null) _here.InvokeVoid(AreaOf(storage) + ".removeItem", KeyOf(name));
        else await js.InvokeVoidAsync(AreaOf(storage) + ".removeItem", KeyOf(name));
    }

    private async ValueTask<IJSObjectReference> ModuleAsync() =>
        _module ??= await js.InvokeAsync<IJSObjectReference>("import", "./_content/Lectica.Blazor/lectica-store.js");

    private static string AreaOf(WebStorage storage) => storage == WebStorage.Local ? "localStorage" : "sessionStorage";

    // The site may have entries of its own.
    private static string KeyOf(string name) => "lectica:" + name;

    public async ValueTask DisposeAsync()
    {
        try
        {
            if (_watch is not null) await _watch.InvokeVoidAsync("end");
            if (_watch is not null) await _watch.DisposeAsync();
            if (_module is not null) await _module.DisposeAsync();
        }
        catch (JSDisconnectedException)
        {
            // The page has gone, and everything of it.
        }
        _leaver?.Dispose();
    }

    // A long text would take a quarter of a second and more through Blazor's own calls, which write it as JSON.
    [SupportedOSPlatform("browser")]
    private static partial class InBrowser
    {
        public static string? Read(WebStorage storage, string key)
        {
            try
            {
                return storage == WebStorage.Local ? OfLocal(key) : OfSession(key);
            }
            catch (System.Runtime.InteropServices.JavaScript.JSException e)
            {
                throw new Microsoft.JSInterop.JSException(e.Message, e);
            }
        }

        public static void Write(WebStorage storage, string key, string text)
        {
            try
            {
                if (storage == WebStorage.Local) ToLocal(key, text);
                else ToSession(key, text);
            }
            catch (System.Runtime.InteropServices.JavaScript.JSException e)
            {
                throw new Microsoft.JSInterop.JSException(e.Message, e);
            }
        }

        [JSImport("globalThis.localStorage.getItem")]
        private static partial string? OfLocal(string key);

        [JSImport("globalThis.sessionStorage.getItem")]
        private static partial string? OfSession(string key);

        [JSImport("globalThis.localStorage.setItem")]
        private static partial void ToLocal(string key, string text);

        [JSImport("globalThis.sessionStorage.setItem")]
        private static partial void ToSession(string key, string text);
    }

    private sealed class Leaver(Action leave)
    {
        [JSInvokable]
        public void Leave() => leave();
    }
}

internal static partial class Told
{
    [LoggerMessage(LogLevel.Warning, "The browser does not keep what the list '{Name}' remembers: {Why}")]
    public static partial void NotKept(ILogger log, string name, string why);

    [LoggerMessage(LogLevel.Warning, "What the browser kept of the list '{Name}' cannot be read, and is not used: {Why}")]
    public static partial void Unreadable(ILogger log, string name, string why);
}
