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

    /// <summary>Finds a text; null where there is none.</summary>
    /// <exception cref="Microsoft.JSInterop.JSException">The browser keeps nothing for this site.</exception>
    [UnconditionalSuppressMessage("Trimming", "IL2026", Justification = "A text needs nothing that is trimmed away.")]
    public async ValueTask<KeptText?> ReadAsync(WebStorage storage, string name)
    {
        if (OperatingSystem.IsBrowser()) return InBrowser.Find(AreaOf(storage), KeyOf(name));
        if (_here is not null) return KeptText.Of(_here.Invoke<string?>(AreaOf(storage) + ".getItem", KeyOf(name)));
        await using var text = await (await ModuleAsync()).InvokeAsync<IJSStreamReference?>("read", AreaOf(storage), KeyOf(name));
        if (text is null) return null;
        using var reader = new StreamReader(await text.OpenReadStreamAsync(MostBytes));
        return KeptText.Of(await reader.ReadToEndAsync());
    }

    /// <summary>Begins a text that is written piece by piece.</summary>
    public TextWriting Begin() => OperatingSystem.IsBrowser() ? new InBrowser.Writing() : new Writing(this);

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

    // Where it is not the page that runs the list.
    private sealed class Writing(WebStore store) : TextWriting
    {
        private readonly StringBuilder _text = new();

        public override void Put(string piece) => _text.Append(piece);

        public override string Text => _text.ToString();

        public override void Dispose()
        {
        }

        public override async ValueTask StoreAsync(WebStorage storage, string name)
        {
            if (store._here is { } here)
            {
                here.InvokeVoid(AreaOf(storage) + ".setItem", KeyOf(name), Text);
                return;
            }
            using var stream = new DotNetStreamReference(new MemoryStream(Encoding.UTF8.GetBytes(Text)));
            await (await store.ModuleAsync()).InvokeVoidAsync("write", AreaOf(storage), KeyOf(name), stream);
        }
    }

    // A long text would take a quarter of a second and more through Blazor's own calls, which write it as JSON; and in one piece it would
    // halt the page. So the browser has it, and gives and takes pieces. It answers before any module could be asked for.
    [SupportedOSPlatform("browser")]
    private static partial class InBrowser
    {
        private const string Store = "globalThis.lectica.store.";

        public static KeptText? Find(string area, string key)
        {
            var text = Try(() => Open(area, key));
            return text is null ? null : new(text.GetPropertyAsInt32("length"), (from, to) => Piece(text, from, to), text);
        }

        private static T Try<T>(Func<T> call)
        {
            try
            {
                return call();
            }
            catch (System.Runtime.InteropServices.JavaScript.JSException e)
            {
                throw new Microsoft.JSInterop.JSException(e.Message, e);
            }
        }

        [JSImport(Store + "open")]
        private static partial JSObject? Open(string area, string key);

        [JSImport(Store + "piece")]
        private static partial string Piece(JSObject text, int from, int to);

        [JSImport(Store + "begin")]
        private static partial JSObject BeginText();

        [JSImport(Store + "put")]
        private static partial void PutPiece(JSObject text, string piece);

        [JSImport(Store + "store")]
        private static partial bool StoreText(JSObject text, string area, string key);

        public sealed class Writing : TextWriting
        {
            private readonly JSObject _text = BeginText();

            public override void Put(string piece) => PutPiece(_text, piece);

            public override ValueTask StoreAsync(WebStorage storage, string name)
            {
                Try(() => StoreText(_text, AreaOf(storage), KeyOf(name)));
                return ValueTask.CompletedTask;
            }

            public override void Dispose() => _text.Dispose();
        }
    }

    private sealed class Leaver(Action leave)
    {
        [JSInvokable]
        public void Leave() => leave();
    }
}

/// <summary>A text that was kept: it is fetched piece by piece, for it may be long.</summary>
/// <param name="length">In characters.</param>
/// <param name="piece">Gives it from one character to before another.</param>
/// <param name="owner">What holds it.</param>
internal sealed class KeptText(int length, Func<int, int, string> piece, IDisposable? owner = null) : IDisposable
{
    public int Length => length;

    /// <summary>All of it, where that is here already; null where the browser has it.</summary>
    public string? Text { get; private init; }

    public static KeptText? Of(string? text) =>
        text is null ? null : new(text.Length, (from, to) => text[from..to]) { Text = text };

    public string Piece(int from, int to) => piece(from, to);

    public void Dispose() => owner?.Dispose();
}

/// <summary>A text that is written piece by piece, and kept when it is whole.</summary>
internal abstract class TextWriting : IDisposable
{
    public abstract void Put(string piece);

    /// <summary>All of it, where it is here; null where the browser has it, which knows itself whether it is another than before.</summary>
    public virtual string? Text => null;

    /// <exception cref="Microsoft.JSInterop.JSException">There is no room for it, or the browser keeps nothing for this site.</exception>
    public abstract ValueTask StoreAsync(WebStorage storage, string name);

    public abstract void Dispose();
}

internal static partial class Told
{
    [LoggerMessage(LogLevel.Warning, "The browser does not keep what the list '{Name}' remembers: {Why}")]
    public static partial void NotKept(ILogger log, string name, string why);

    [LoggerMessage(LogLevel.Warning, "What the browser kept of the list '{Name}' cannot be read, and is not used: {Why}")]
    public static partial void Unreadable(ILogger log, string name, string why);
}
