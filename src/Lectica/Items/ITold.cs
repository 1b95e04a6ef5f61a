namespace Lectica.Items;

/// <summary>What is told of items by index, and reads them when somebody looks.</summary>
internal interface ITold
{
    /// <summary>Reads them while the indexes still mean them: called before an edit is made.</summary>
    /// <param name="has">Whether they can be read; where not, they cannot be later.</param>
    void Fetch(Func<ItemSet, bool> has);
}
