namespace Lectica.Testing;

/// <summary>Reading files with errors that say what is wrong with which.</summary>
public static class InputFile
{
    /// <summary>All bytes of a file, without a byte order mark.</summary>
    /// <param name="path">The file.</param>
    /// <param name="what">What it should be, for the error: such as <c>a recording (JSON Lines)</c>.</param>
    /// <exception cref="InputException">There is no such file, or it cannot be read.</exception>
    public static byte[] Read(string path, string what)
    {
        ArgumentNullException.ThrowIfNull(path);
        if (string.IsNullOrWhiteSpace(path))
            throw new InputException("the file to read", null, $"its path is empty; give the path of {what}.");
        try
        {
            var bytes = File.ReadAllBytes(path);
            return bytes.AsSpan().StartsWith("\uFEFF"u8) ? bytes[3..] : bytes;
        }
        catch (Exception e) when (e is FileNotFoundException or DirectoryNotFoundException)
        {
            throw new InputException(path, null, $"there is no such file; give the path of {what}.");
        }
        catch (Exception e) when (e is IOException or UnauthorizedAccessException)
        {
            throw new InputException(path, null, $"cannot be read: {e.Message}");
        }
    }
}
