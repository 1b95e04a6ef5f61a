using System.Diagnostics;
using System.Text;

namespace Lectica.Blazor;

/// <summary>
/// A text that is read or written in slices, as a stream of its UTF-8, with a pause after each in which the page has its turn.
/// </summary>
/// <param name="text">What is read.</param>
/// <param name="most">So many characters are written; with more it ends.</param>
internal sealed class Slices(string text = "", int most = 0) : MemoryStream
{
    private static readonly TimeSpan Slice = TimeSpan.FromMilliseconds(10);
    private const int Piece = 1 << 14;

    private long _began = Stopwatch.GetTimestamp();
    private ReadOnlyMemory<byte> _piece;
    private int _read, _written;

    /// <summary>What was written.</summary>
    public string Text => Encoding.UTF8.GetString(GetBuffer().AsSpan(0, (int)Length));

    /// <summary>Lets the page have its turn: a browser draws between two calls of its timers, not between two steps of a task.</summary>
    public static Task Pause() => Task.Delay(1);

    private async ValueTask PauseIfDue()
    {
        if (Stopwatch.GetElapsedTime(_began) < Slice) return;
        await Pause();
        _began = Stopwatch.GetTimestamp();
    }

    /// <inheritdoc/>
    public override async ValueTask<int> ReadAsync(Memory<byte> buffer, CancellationToken cancellationToken = default)
    {
        await PauseIfDue();
        if (_piece.IsEmpty)
        {
            // A character of two parts is not torn apart.
            var end = Math.Min(text.Length, _read + Piece);
            if (end < text.Length && char.IsHighSurrogate(text[end - 1])) end--;
            _piece = Encoding.UTF8.GetBytes(text[_read..end]);
            _read = end;
        }
        // A reader may have room for less than a letter.
        var bytes = Math.Min(buffer.Length, _piece.Length);
        _piece[..bytes].CopyTo(buffer);
        _piece = _piece[bytes..];
        return bytes;
    }

    /// <inheritdoc/>
    /// <exception cref="TooLongException">It is more than it may be.</exception>
    public override async ValueTask WriteAsync(ReadOnlyMemory<byte> buffer, CancellationToken cancellationToken = default)
    {
        _written += Encoding.UTF8.GetCharCount(buffer.Span);
        if (_written > most) throw new TooLongException(most);
        Write(buffer.Span);
        await PauseIfDue();
    }
}

/// <summary>A text was longer than it may be.</summary>
internal sealed class TooLongException(int most) : Exception($"It would be longer than {most:#,0} characters.");
