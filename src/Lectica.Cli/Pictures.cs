using SkiaSharp;

namespace Lectica.Cli;

/// <summary>The small pictures that rows name, from files beside the list file. One that is not there is drawn as a letter.</summary>
internal sealed class Pictures(string folder) : IDisposable
{
    private readonly Dictionary<string, SKImage?> _images = [];

    public SKImage? Of(string name)
    {
        if (!_images.TryGetValue(name, out var image))
        {
            var path = Path.Combine(folder, name);
            _images[name] = image = File.Exists(path) ? SKImage.FromEncodedData(path) : null;
        }
        return image;
    }

    public void Dispose()
    {
        foreach (var image in _images.Values) image?.Dispose();
    }
}
