#:project ../src/Lectica/Lectica.csproj
using Lectica;
using Lectica.Acts;

var list = InteractiveList.Of(
    Enumerable.Range(1, 1_000_000).ToArray(), n => n, new() { Mode = SelectionMode.Multiple, Parts = new() { Check = true } });
list.EnabledWhen = n => n % 10 != 0;           // every tenth may not be selected
list.Filter = n => n <= 500_000;               // only half of them show
void Tell() => Console.WriteLine($"{list.HeaderState}: {list.SelectedCount} of {list.RowCount} rows");

Tell();
list.ToggleAll();                              // what the header's box does
Tell();
list.Toggle(7);
Tell();
list.ToggleAll();                              // mixed: select all again
list.ToggleAll();                              // all are in: take them out
Tell();
