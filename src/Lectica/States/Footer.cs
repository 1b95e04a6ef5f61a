using Lectica.Items;

namespace Lectica.States;

/// <summary>What comes after the items, and how often the app has been asked for it.</summary>
internal sealed record Footer(More More, int Asked)
{
    public static Footer Nothing { get; } = new(More.NotSaid, 0);

    /// <summary>Whether it has a row, where any item shows.</summary>
    public bool HasRow => More.Kind != MoreKind.NotSaid;

    /// <summary>What the row says, in a language.</summary>
    public static string Say(More more, Phrases phrases) => more.Text ?? more.Kind switch
    {
        MoreKind.ToCome => phrases.MoreToCome,
        MoreKind.Loading => phrases.MoreLoading,
        MoreKind.Failed => phrases.MoreFailed,
        _ => phrases.NoMore,
    };

    /// <summary>The same with the app asked once more.</summary>
    public Footer Ask() => new(More.Loading, Asked + 1);

    /// <summary>Asks for more where there is some, and its row comes near: as it comes in view, or a little before.</summary>
    public static Footer Settle(ListState before, ListState now, in Settling how)
    {
        var footer = now.Footer;
        if (footer.More.Kind != MoreKind.ToCome) return footer;
        var window = now.Window;
        return window.Viewport.ScrollTop + window.Viewport.Height + how.Options.MoreWithin >= window.Geometry.Height ? footer.Ask()
            : footer;
    }
}
