namespace Lectica.Items;

/// <summary>The private identity of an item that has no key of its own: given when it comes into the list, kept until it leaves.</summary>
public readonly record struct ItemId(long Number)
{
    /// <summary>Such as <c>#7</c>.</summary>
    public override string ToString() => $"#{Number}";
}
