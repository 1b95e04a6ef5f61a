#:project ../src/Lectica/Lectica.csproj
using Lectica;
using Lectica.Acts;
using Lectica.Input;

var list = InteractiveList.Of(
    "ABCDEFGHIJ".Select(c => c.ToString()).ToArray(), s => s, new() { Mode = SelectionMode.Multiple, ModKey = ModKey.Ctrl });
void Press(string key, Modifiers modifiers = Modifiers.None)
{
    list.Take(new KeyPress(key, modifiers));
    Console.WriteLine($"{modifiers}+{key}: {string.Concat(list.SelectedItems)}".Replace("None+", ""));
}

Press("ArrowDown");
Press("ArrowDown");
Press("End", Modifiers.Shift);
Press("PageUp", Modifiers.Shift);              // extending again replaces: it shrinks
list.Toggle("H");                              // a new anchor, the rest stays
list.ExtendAddingTo("F");
Console.WriteLine($"adding H to F: {string.Concat(list.SelectedItems)}");
