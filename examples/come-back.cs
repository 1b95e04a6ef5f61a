#:project ../src/Lectica/Lectica.csproj
using Lectica;
using Lectica.Acts;
using Lectica.Input;

var fields = Enumerable.Range(1, 200).Select(n => $"R{n:000}").ToList();
var list = InteractiveList.Of(fields, key => key, new() { Mode = SelectionMode.None });
ListSnapshot? left = null;
list.Activated += (_, opened) => left = list.Save();            // on the way to the detail page
list.ScrollTo(3000);
list.Take(PointerSample.Down(PointerType.Touch, x: 120, y: 200, time: 0));
list.Take(PointerSample.Up(PointerType.Touch, x: 120, y: 200, time: 90));

// Back again: a new page, a new list, and three more requests came in at the top meanwhile.
var again = InteractiveList.Of(["N1", "N2", "N3", .. fields], key => key, new() { Mode = SelectionMode.None });
again.Restore(left!);
var (before, after) = (list.Frame.Rows[0], again.Frame.Rows[0]);
Console.WriteLine($"first row {before.Content.Label} at {before.Top} px, and {after.Content.Label} at {after.Top} px again");
Console.WriteLine($"the cursor is on {again.CursorKey}");
