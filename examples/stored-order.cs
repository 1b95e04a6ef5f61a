#:project ../src/Lectica/Lectica.csproj
using System.Collections.ObjectModel;
using Lectica;
using Lectica.Moving;

// A table of rows, each stored under an order key: a text that sorts where its row stands.
var table = new Dictionary<string, string?>();
string[] names = ["Tessil Ring", "Orvane Cluster", "Belyra Pair", "Harunda Comet", "Zinyra Comet"];
foreach (var (name, key) in names.Zip(OrderKey.Spread(names.Length))) table[name] = key;

var list = InteractiveList.Of(new ObservableCollection<string>(Read()), name => name, new() { MayMove = true });
var writes = 0;
// A move, its undo and its redo are stored by the same few lines: only what has moved is written.
list.Moved += (_, moved) =>
{
    foreach (var (name, key) in list.OrderKeysFor(moved.Keys, name => table[name])) (table[name], writes) = (key, writes + 1);
};

list.Move(["Tessil Ring", "Zinyra Comet"], gap: 3);
Console.WriteLine($"{string.Join(", ", Read())} ({writes} rows written)");
list.Undo();
Console.WriteLine($"{string.Join(", ", Read())} ({writes} rows written)");
// However often something goes into one gap, keys stay short enough for a column of text.
for (var i = 0; i < 1000; i++) list.Move([list[4]], gap: 1);
var isSame = Read().SequenceEqual(Enumerable.Range(0, 5).Select(i => list[i]));
var longest = table.Values.Max(key => key!.Length);
Console.WriteLine($"1,000 moves into one gap: no key has more than {longest} letters; the order is the list's: {isSame}");

IEnumerable<string> Read() => table.OrderBy(row => row.Value, StringComparer.Ordinal).Select(row => row.Key);
