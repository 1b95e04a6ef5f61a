#:project ../src/Lectica/Lectica.csproj
// Many items: a million cost what ten do, since a selection is a set of runs.
using Lectica;
using Lectica.Acts;
using Lectica.Commands;

var list = InteractiveList.Of(Enumerable.Range(0, 1_000_000).ToArray(), n => n, new() { Mode = SelectionMode.Multiple });
list.Filter = n => n % 2 == 0;
list.SelectAll();
list.Toggle(500_000);
Console.WriteLine($"{list.SelectedCount} of {list.RowCount} rows, the box is {list.HeaderState}");
var before = list.Selection.Items;
list.ExtendTo(600_000);
Console.WriteLine($"a range of {list.SelectedCount}; the version before still holds {before.Count}");
Console.WriteLine($"the middle one of them: {list[list.Selection.Items.Nth(list.SelectedCount / 2)]}");
string[] labels = ["Star", "Defer", "Withdraw"];
var toolbar = Toolbar.Fit([.. labels.Select(label => new ToolbarEntry(label, label, null, CommandRole.Neutral, true, 90))], 250);
Console.WriteLine(
    $"in 250 px: {string.Join(", ", toolbar.Shown.Select(e => e.Label))}; in the overflow " +
        $"menu: {string.Join(", ", toolbar.Overflow.Select(e => e.Label))}");
