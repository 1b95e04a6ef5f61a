using System.Diagnostics;
using System.Globalization;

namespace Lectica.Storage;

/// <summary>
/// Writes a file whole or not at all: into a file beside it first, which is flushed to the disk and then takes its place in one step. So
/// whatever breaks off in between, the file is the old one or the new one, whole, with the rights that it had. A link is followed. A device
/// or a pipe is written as it is.
/// </summary>
public static class WholeFile
{
    /// <summary>Writes a file, and its folder where that is missing.</summary>
    /// <exception cref="IOException">It cannot be written, or is a folder; it is as it was.</exception>
    /// <exception cref="UnauthorizedAccessException">It may not be written.</exception>
    public static void Write(string path, Action<Stream> write)
    {
        ArgumentException.ThrowIfNullOrWhiteSpace(path);
        ArgumentNullException.ThrowIfNull(write);
        var full = Path.GetFullPath(path);
        if (new FileInfo(full).LinkTarget is not null && File.ResolveLinkTarget(full, returnFinalTarget: true) is { } target)
            full = target.FullName;
        if (Directory.Exists(full) || Path.GetDirectoryName(full) is not { } folder)
            throw new IOException($"'{full}' is a folder: give the path of a file in it.");
        if (OpenDevice(full) is { } device)
        {
            using (device) write(device);
            return;
        }
        Directory.CreateDirectory(folder);
        ClearPartial(folder, Path.GetFileName(full));
        var partial = $"{full}.{Environment.ProcessId.ToString(CultureInfo.InvariantCulture)}-{Guid.NewGuid():N}.partial";
        try
        {
            using (var stream = new FileStream(partial, FileMode.CreateNew))
            {
                write(stream);
                stream.Flush(flushToDisk: true);
            }
            if (!OperatingSystem.IsWindows() && File.Exists(full)) File.SetUnixFileMode(partial, File.GetUnixFileMode(full));
            File.Move(partial, full, overwrite: true);
        }
        finally
        {
            if (File.Exists(partial)) File.Delete(partial);
        }
    }

    /// <summary>
    /// Opens what is there and is not a regular file; null where it is one, or nothing is there yet. A pipe waits for its reader.
    /// </summary>
    private static FileStream? OpenDevice(string full)
    {
        if (OperatingSystem.IsWindows() || !File.Exists(full)) return null;
        var stream = new FileStream(full, FileMode.Open, FileAccess.Write, FileShare.ReadWrite, bufferSize: 0);
        // The null device can be sought in, so what stands among the devices is asked for by its place.
        if (!stream.CanSeek
            || (full.StartsWith("/dev/", StringComparison.Ordinal) && !full.StartsWith("/dev/shm/", StringComparison.Ordinal)))
            return stream;
        stream.Dispose();
        return null;
    }

    /// <summary>Takes away what writers left that were killed in the middle.</summary>
    private static void ClearPartial(string folder, string name)
    {
        foreach (var left in Directory.EnumerateFiles(folder, "*.partial"))
        {
            var rest = Path.GetFileName(left);
            if (!rest.StartsWith(name + ".", StringComparison.Ordinal)) continue;
            var writer = rest[(name.Length + 1)..].Split('-', '.')[0];
            if (int.TryParse(writer, NumberStyles.None, CultureInfo.InvariantCulture, out var id) && IsRunning(id)) continue;
            File.Delete(left);
        }
    }

    private static bool IsRunning(int id)
    {
        try
        {
            using var process = Process.GetProcessById(id);
            return !process.HasExited;
        }
        catch (ArgumentException)
        {
            return false;
        }
    }
}
