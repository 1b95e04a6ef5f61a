namespace Lectica.Gestures;

/// <summary>The last places of a pointer, and how fast it went: the slope of x over time by least squares.</summary>
internal sealed class VelocityTrack
{
    // 64 places reach back 100 ms at 640 samples a second; denser ones are thinned.
    private const int Capacity = 64;
    private const double Densest = 1000.0 / 600;

    private readonly double[] _times = new double[Capacity], _places = new double[Capacity];
    private int _count, _next;

    public void Clear() => _count = _next = 0;

    public void Add(double time, double x)
    {
        var last = (_next + Capacity - 1) % Capacity;
        var before = (_next + Capacity - 2) % Capacity;
        // The newest place counts always; the one before it gives way where they come too densely.
        if (_count >= 2 && _times[last] - _times[before] < Densest)
        {
            (_times[last], _places[last]) = (time, x);
            return;
        }
        (_times[_next], _places[_next]) = (time, x);
        _next = (_next + 1) % Capacity;
        _count = Math.Min(_count + 1, Capacity);
    }

    /// <summary>px/s over the <paramref name="window"/> ms before <paramref name="now"/>; 0 where there are not two moments.</summary>
    public double Velocity(double now, double window)
    {
        double n = 0, time = 0, place = 0;
        for (var i = 0; i < _count; i++)
        {
            if (now - _times[i] > window) continue;
            n++;
            time += _times[i] - now;
            place += _places[i];
        }
        if (n < 2) return 0;
        double meanTime = time / n, meanOffset = place / n, above = 0, below = 0;
        for (var i = 0; i < _count; i++)
        {
            if (now - _times[i] > window) continue;
            var t = _times[i] - now - meanTime;
            above += t * (_places[i] - meanOffset);
            below += t * t;
        }
        return below < 1e-6 ? 0 : 1000 * above / below;
    }
}
