using System.Diagnostics;
using System.Text;

namespace Lectica.Blazor;

/// <summary>Lets the page have its turn while a long text is read or written.</summary>
internal sealed class Slices
{
    private static readonly TimeSpan Slice = TimeSpan.FromMilliseconds(10);

    private long _began = Stopwatch.GetTimestamp();

    /// <summary>A pause: a browser draws between two calls of its timers, not between two steps of a task.</summary>
    public static Task Pause() => Task.Delay(1);

    /// <summary>A pause where the last was a slice ago.</summary>
    public async ValueTask PauseIfDue()
    {
        if (Stopwatch.GetElapsedTime(_began) < Slice) return;
        await Pause();
        _began = Stopwatch.GetTimestamp();
    }
}

/// <summary>A text that is read in slices, as a stream of its UTF-8.</summary>
internal sealed class SlicedReading(KeptText text) : MemoryStream
{
    private const int Piece = 1 << 14;

    private readonly Slices _slices = new();
    private ReadOnlyMemory<byte> _piece;
    private int _read;

    /// <inheritdoc/>
    public override async ValueTask<int> ReadAsync(Memory<byte> buffer, CancellationToken cancellationToken = default)
    {
        await _slices.PauseIfDue();
        if (_piece.IsEmpty)
        {
            var piece = text.Piece(_read, Math.Min(text.Length, _read + Piece));
            _read += piece.Length;
            // A character of two parts is not torn apart.
            if (_read < text.Length && char.IsHighSurrogate(piece[^1]))
            {
                piece = piece[..^1];
                _read--;
            }
            _piece = Encoding.UTF8.GetBytes(piece);
        }
        // A reader may have room for less than a letter.
        var bytes = Math.Min(buffer.Length, _piece.Length);
        _piece[..bytes].CopyTo(buffer);
        _piece = _piece[bytes..];
        return bytes;
    }
}

/// <summary>A text that is written in slices, from a stream of its UTF-8.</summary>
/// <param name="text">Where it goes.</param>
/// <param name="most">So many characters may be written.</param>
internal sealed class SlicedWriting(TextWriting text, int most) : MemoryStream
{
    private readonly Slices _slices = new();
    private readonly Decoder _decoder = Encoding.UTF8.GetDecoder();
    private int _written;

    /// <inheritdoc/>
    /// <exception cref="TooLongException">It is more than it may be.</exception>
    public override async ValueTask WriteAsync(ReadOnlyMemory<byte> buffer, CancellationToken cancellationToken = default)
    {
        var letters = new char[_decoder.GetCharCount(buffer.Span, flush: false)];
        _decoder.GetChars(buffer.Span, letters, flush: false);
        _written += letters.Length;
        if (_written > most) throw new TooLongException(most);
        text.Put(new(letters));
        await _slices.PauseIfDue();
    }
}

/// <summary>A text was longer than it may be.</summary>
internal sealed class TooLongException(int most) : Exception($"It would be longer than {most:#,0} characters.");
