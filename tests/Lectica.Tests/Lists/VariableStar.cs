using System.ComponentModel;

namespace Lectica.Tests.Lists;

/// <summary>A star whose brightness changes, and which tells of it.</summary>
internal sealed class VariableStar(int id, int magnitude) : INotifyPropertyChanged
{
    public int Id { get; } = id;

    public int Magnitude
    {
        get;
        set
        {
            field = value;
            PropertyChanged?.Invoke(this, new(nameof(Magnitude)));
        }
    } = magnitude;

    public event PropertyChangedEventHandler? PropertyChanged;
}
