namespace Lectica.Testing;

/// <summary>
/// WebDriver's code points for keys without a character ("Keyboard actions", https://www.w3.org/TR/webdriver2/#keyboard-actions).
/// </summary>
internal static class WebDriverKeys
{
    private static readonly Dictionary<char, string> Names = new()
    {
        ['\uE000'] = "Unidentified",
        ['\uE001'] = "Cancel",
        ['\uE002'] = "Help",
        ['\uE003'] = "Backspace",
        ['\uE004'] = "Tab",
        ['\uE005'] = "Clear",
        ['\uE006'] = "Enter",
        ['\uE007'] = "Enter",
        ['\uE008'] = "Shift",
        ['\uE009'] = "Control",
        ['\uE00A'] = "Alt",
        ['\uE00B'] = "Pause",
        ['\uE00C'] = "Escape",
        ['\uE00D'] = " ",
        ['\uE00E'] = "PageUp",
        ['\uE00F'] = "PageDown",
        ['\uE010'] = "End",
        ['\uE011'] = "Home",
        ['\uE012'] = "ArrowLeft",
        ['\uE013'] = "ArrowUp",
        ['\uE014'] = "ArrowRight",
        ['\uE015'] = "ArrowDown",
        ['\uE016'] = "Insert",
        ['\uE017'] = "Delete",
        ['\uE018'] = ";",
        ['\uE019'] = "=",
        ['\uE01A'] = "0",
        ['\uE01B'] = "1",
        ['\uE01C'] = "2",
        ['\uE01D'] = "3",
        ['\uE01E'] = "4",
        ['\uE01F'] = "5",
        ['\uE020'] = "6",
        ['\uE021'] = "7",
        ['\uE022'] = "8",
        ['\uE023'] = "9",
        ['\uE024'] = "*",
        ['\uE025'] = "+",
        ['\uE026'] = ",",
        ['\uE027'] = "-",
        ['\uE028'] = ".",
        ['\uE029'] = "/",
        ['\uE031'] = "F1",
        ['\uE032'] = "F2",
        ['\uE033'] = "F3",
        ['\uE034'] = "F4",
        ['\uE035'] = "F5",
        ['\uE036'] = "F6",
        ['\uE037'] = "F7",
        ['\uE038'] = "F8",
        ['\uE039'] = "F9",
        ['\uE03A'] = "F10",
        ['\uE03B'] = "F11",
        ['\uE03C'] = "F12",
        ['\uE03D'] = "Meta",
        ['\uE050'] = "Shift",
        ['\uE051'] = "Control",
        ['\uE052'] = "Alt",
        ['\uE053'] = "Meta",
        ['\uE054'] = "PageUp",
        ['\uE055'] = "PageDown",
        ['\uE056'] = "End",
        ['\uE057'] = "Home",
        ['\uE058'] = "ArrowLeft",
        ['\uE059'] = "ArrowUp",
        ['\uE05A'] = "ArrowRight",
        ['\uE05B'] = "ArrowDown",
        ['\uE05C'] = "Insert",
        ['\uE05D'] = "Delete",
    };

    /// <summary>The W3C <c>key</c> value of a WebDriver key value.</summary>
    public static string NameOf(string value) => value.Length == 1 && Names.TryGetValue(value[0], out var name) ? name : value;

    /// <summary>The WebDriver key value of a W3C <c>key</c> value.</summary>
    public static string ValueOf(string key)
    {
        foreach (var (value, name) in Names)
            if (name == key && key.Length > 1) return value.ToString();
        return key;
    }
}
