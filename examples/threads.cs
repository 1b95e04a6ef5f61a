#:project ../src/Lectica/Lectica.csproj
using System.Collections.ObjectModel;
using System.ComponentModel;
using Lectica;

var gate = new Lock();
var plan = new ObservableCollection<Plate>(Enumerable.Range(1, 3).Select(i => new Plate($"Plate {i}")));
var list = InteractiveList.Awaiting((Plate p) => p.Name);
list.Show(plan, gate);                                          // the lock that is held by whoever changes it, on any thread
list.Marks = [new("exposed") { Get = p => p.IsExposed, Set = (p, on) => p.IsExposed = on }];

// A worker that knows nothing of the list: it sets properties, and changes the collection under the lock.
var worker = new Thread(() =>
{
    plan[1].IsExposed = true;
    lock (gate) plan.Insert(0, new("Plate 0"));
    plan[3].IsExposed = true;
});
worker.Start();
worker.Join();
list.Advance(0);                                                // by itself with a context, at the next call on a bare thread
Console.WriteLine(string.Join(", ", Enumerable.Range(0, list.Count).Select(i => list[i].Name)));
Console.WriteLine(string.Join(", ", list.Marked("exposed").Select(i => list[i].Name)));

// A call, unlike a change that comes by itself, belongs on the list's own thread: elsewhere it is a clear error.
var call = new Thread(() =>
{
    try
    {
        list.SelectAll();
    }
    catch (WrongThreadException)
    {
        Console.WriteLine("called from the wrong thread");
    }
});
call.Start();
call.Join();

sealed class Plate(string name) : INotifyPropertyChanged
{
    private bool _isExposed;

    public string Name => name;

    public bool IsExposed
    {
        get => Volatile.Read(ref _isExposed);
        set
        {
            Volatile.Write(ref _isExposed, value);
            PropertyChanged?.Invoke(this, new(nameof(IsExposed)));
        }
    }

    public event PropertyChangedEventHandler? PropertyChanged;
}
