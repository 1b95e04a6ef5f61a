namespace Lectica.Storage;

/// <summary>
/// A snapshot in a file. A write goes into a file beside it first, which is flushed to the disk and then takes its place in one step:
/// whatever breaks off in between, the file holds the old snapshot or the new one, whole.
/// </summary>
public sealed class SnapshotFile(string path)
{
    /// <summary>The file's full path.</summary>
    public string Path { get; } = System.IO.Path.GetFullPath(path);

    /// <summary>Writes a snapshot, and the folder where it is missing.</summary>
    /// <exception cref="IOException">It cannot be written; the file is as it was.</exception>
    public void Save(ListSnapshot snapshot)
    {
        ArgumentNullException.ThrowIfNull(snapshot);
        Directory.CreateDirectory(System.IO.Path.GetDirectoryName(Path)!);
        var partial = $"{Path}.{Guid.NewGuid():N}.partial";
        try
        {
            using (var stream = new FileStream(partial, FileMode.CreateNew))
            {
                stream.Write(System.Text.Encoding.UTF8.GetBytes(snapshot.ToJson() + "\n"));
                stream.Flush(flushToDisk: true);
            }
            File.Move(partial, Path, overwrite: true);
        }
        finally
        {
            if (File.Exists(partial)) File.Delete(partial);
        }
    }

    /// <summary>Reads the snapshot; null where there is no such file yet.</summary>
    /// <exception cref="FormatException">The file is no snapshot; the message says where and why.</exception>
    /// <exception cref="IOException">It cannot be read.</exception>
    public ListSnapshot? Load()
    {
        try
        {
            return ListSnapshot.Parse(File.ReadAllText(Path));
        }
        catch (Exception e) when (e is FileNotFoundException or DirectoryNotFoundException)
        {
            return null;
        }
    }
}
