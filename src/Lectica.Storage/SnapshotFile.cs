namespace Lectica.Storage;

/// <summary>A snapshot in a file, which is written whole or not at all: see <see cref="WholeFile"/>.</summary>
public sealed class SnapshotFile(string path)
{
    /// <summary>The file's full path.</summary>
    public string Path { get; } = System.IO.Path.GetFullPath(path);

    /// <summary>Writes a snapshot, and the folder where it is missing.</summary>
    /// <exception cref="IOException">It cannot be written; the file is as it was.</exception>
    public void Save(ListSnapshot snapshot)
    {
        ArgumentNullException.ThrowIfNull(snapshot);
        WholeFile.Write(Path, stream => stream.Write(System.Text.Encoding.UTF8.GetBytes(snapshot.ToJson() + "\n")));
    }

    /// <summary>Reads the snapshot; null where there is no such file yet.</summary>
    /// <exception cref="FormatException">The file is not a snapshot; the message says where and why.</exception>
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
