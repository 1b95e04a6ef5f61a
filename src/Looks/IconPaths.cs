using System.Buffers;
using System.Collections.Frozen;
using Lectica.Items;

namespace Lectica.Looks;

/// <summary>
/// Our icons, as paths in a square of 24 by 24: lines of <see cref="Weight"/> with round ends, which an icon that is on fills. The page and
/// the painter draw the same ones.
/// </summary>
internal static class IconPaths
{
    /// <summary>How thick lines are, of 24.</summary>
    public const float Weight = 1.8f;

    /// <summary>The icon of a notice.</summary>
    public static string Of(NoticeKind? notice) => notice switch
    {
        NoticeKind.Failed or NoticeKind.MoreFailed => "alert",
        NoticeKind.Loading or NoticeKind.MoreLoading => "loading",
        NoticeKind.MoreToCome => "down",
        NoticeKind.NoMore => "tick",
        NoticeKind.NothingMatches => "search",
        _ => "empty",
    };

    // Names are words: none of them is a move to somewhere.
    private static readonly SearchValues<char> PathSigns = SearchValues.Create("MmZzLlHhVvCcSsQqTtAaEe0123456789+-., \t\r\n");

    /// <summary>
    /// The path of an icon by its name or, where it is an app's own, itself: path data as of SVG 2, chapter 9, which begin with a move.
    /// Null where it is neither.
    /// </summary>
    public static string? PathOf(string icon) => All.TryGetValue(icon, out var path) ? path
        : icon is ['M' or 'm', not (>= 'a' and <= 'z'), ..] && icon.AsSpan().IndexOfAnyExcept(PathSigns) < 0 ? icon : null;

    /// <summary>The paths by name.</summary>
    public static FrozenDictionary<string, string> All { get; } = new Dictionary<string, string>
    {
        // Commands.
        ["bin"] = "M4 6h16M9 6V3.5h6V6M6.5 6l1 14.5h9l1-14.5M10 10v7M14 10v7",
        ["clock"] = "M12 3.5a8.5 8.5 0 1 0 0 17 8.5 8.5 0 0 0 0-17zM12 7v5.2l3.5 2",
        ["copy"] = "M8 8V5.5A1.5 1.5 0 0 1 9.5 4h9A1.5 1.5 0 0 1 20 5.5v9a1.5 1.5 0 0 1-1.5 1.5H16M5.5 8h9A1.5 1.5 0 0 1 16 9.5v9a1.5 " +
            "1.5 0 0 1-1.5 1.5h-9A1.5 1.5 0 0 1 4 18.5v-9A1.5 1.5 0 0 1 5.5 8z",
        ["cut"] = "M6.5 15.5a2.7 2.7 0 1 0 0 5.4 2.7 2.7 0 0 0 0-5.4zM17.5 15.5a2.7 2.7 0 1 0 0 5.4 2.7 2.7 0 0 0 0-5.4zM8 16L16 3M16 " +
            "16L8 3",
        ["details"] = "M12 3.5a8.5 8.5 0 1 0 0 17 8.5 8.5 0 0 0 0-17zM12 11v5.5M12 7.5v.1",
        ["dome"] = "M4 19.5h16M5.5 19.5V14a6.5 6.5 0 0 1 13 0v5.5M12.5 7.5L16.5 3M8.5 15.5h4",
        ["moon"] = "M19.5 14.5A8 8 0 1 1 9.5 4.5a6.5 6.5 0 0 0 10 10z",
        ["move"] = "M12 3.5v17M7.5 8L12 3.5 16.5 8M7.5 16l4.5 4.5 4.5-4.5",
        ["paste"] = "M9 5H6.5A1.5 1.5 0 0 0 5 6.5v13A1.5 1.5 0 0 0 6.5 21h11a1.5 1.5 0 0 0 1.5-1.5v-13A1.5 1.5 0 0 0 17.5 5H15M9 " +
            "3h6v4H9zM12 10.5v6.5M9 14.5l3 3 3-3",
        ["pencil"] = "M4 20l1-4.5L16.5 4a2.1 2.1 0 0 1 3 3L8 18.5zM14 6.5l3 3",
        ["plus"] = "M4 12h16M12 4v16",
        ["top"] = "M4 4h16M12 21V8M7 13l5-5 5 5",
        ["undo"] = "M4 9h10a5.5 5.5 0 0 1 0 11H8M8 5L4 9l4 4",
        // Marks.
        ["flag"] = "M6 21V4h12l-3 4.5L18 13H6",
        ["ring"] = "M12 3.5a8.5 8.5 0 1 0 0 17 8.5 8.5 0 0 0 0-17z",
        ["star"] = "M12 3l2.6 5.6 6.2.7-4.6 4.2 1.3 6.1L12 16.5l-5.5 3.1 1.3-6.1L3.2 9.3l6.2-.7z",
        ["tick"] = "M4.5 12.5l5 5.5L19.5 6.5",
        // Parts and ways.
        ["back"] = "M14.5 6l-6 6 6 6",
        ["close"] = "M6 6l12 12M18 6L6 18",
        ["down"] = "M6 9.5l6 6 6-6",
        ["up"] = "M6 14.5l6-6 6 6",
        ["forward"] = "M9.5 6l6 6-6 6",
        ["handle"] = "M4.5 9.3h15M4.5 14.7h15",
        ["more"] = "M5.5 12a.6.6 0 1 0 1.2 0 .6.6 0 0 0-1.2 0zM11.4 12a.6.6 0 1 0 1.2 0 .6.6 0 0 0-1.2 0zM17.3 12a.6.6 0 1 0 1.2 0 .6.6 " +
            "0 0 0-1.2 0z",
        ["retry"] = "M19.5 12a7.5 7.5 0 1 1-2.3-5.4M20 3v4.5h-4.5",
        ["refused"] = "M12 3.5a8.5 8.5 0 1 0 0 17 8.5 8.5 0 0 0 0-17zM6 18L18 6",
        // Notices.
        ["alert"] = "M12 4L21 19.5H3zM12 10v4.5M12 16.9v.1",
        ["empty"] = "M4 13l3-8h10l3 8v6H4zM4 13h5a3 3 0 0 0 6 0h5",
        ["loading"] = "M12 3.5a8.5 8.5 0 1 1-8.5 8.5",
        ["search"] = "M10.5 4a6.5 6.5 0 1 0 0 13 6.5 6.5 0 0 0 0-13zM15.5 15.5l5 5M7.5 10.5h6",
    }.ToFrozenDictionary();
}
