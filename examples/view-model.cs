#:project ../src/Lectica/Lectica.csproj
#:package CommunityToolkit.Mvvm
using System.Collections.ObjectModel;
using System.ComponentModel;
using System.Windows.Input;
using CommunityToolkit.Mvvm.ComponentModel;
using Lectica;

var plan = new PlanModel();
var view = new View(plan);
View.Press(plan.Withdraw);                                      // nothing is selected: the button is disabled
view.Rows[1].IsSelected = true;                                 // a check box, bound both ways
view.Rows[2]["starred"] = true;                                 // a star, bound to its own row
View.Press(plan.Withdraw);
plan.Requester.Value = "Ila Venn";                              // the choice field, bound to its value
Console.WriteLine(plan.Status);

/// <summary>A view model: the list, and what the app adds to it. It knows nothing of views.</summary>
sealed partial class PlanModel : ObservableObject
{
    private readonly ObservableCollection<Request> _requests =
    [
        new("Tessil Ring", "Ila Venn"), new("Orvane Cluster", "Noor Halder"),
        new("Belyra Pair", "Ila Venn"), new("Harunda Comet", "Noor Halder"),
    ];

    private readonly InteractiveList<Request, string> _list;

    public PlanModel()
    {
        _list = InteractiveList.Of(_requests, r => r.Field, new() { Mode = Lectica.Acts.SelectionMode.Multiple });
        _list.Marks = [new("starred") { Get = r => r.IsStarred, Set = (r, on) => r.IsStarred = on }];
        _list.Commands = [new("withdraw", "Withdraw") { Do = _list.TakeOut }];
        _list.SelectionChanged += (_, change) => Status = $"{change.Selected.Count} selected";
        (Rows, Withdraw) = (_list.ObservableRows(), _list.Command("withdraw"));
        Requester = new(["Ila Venn", "Noor Halder"], name => name) { Prompt = "Everybody" };
        Requester.PropertyChanged += (_, change) =>
        {
            if (change.PropertyName != nameof(Requester.Value)) return;
            _list.Filter = Requester.Value is { } name ? r => r.Requester == name : null;
        };
    }

    public RowCollection<Request, string> Rows { get; }

    public ICommand Withdraw { get; }

    public ChoiceField<string, string> Requester { get; }

    [ObservableProperty]
    public partial string Status { get; set; } = "Nothing selected";
}

sealed partial class Request(string name, string requester) : ObservableObject
{
    public string Field => name;

    public string Requester => requester;

    [ObservableProperty]
    public partial bool IsStarred { get; set; }
}

/// <summary>A view as any framework's controls are: it knows the binding interfaces alone, and prints what they tell.</summary>
sealed class View
{
    public View(PlanModel plan)
    {
        Rows = [.. plan.Rows];
        foreach (var row in Rows) Bind(row);
        plan.Rows.CollectionChanged += (_, change) =>
        {
            Console.WriteLine($"rows: {change.Action}");
            Rows = [.. plan.Rows];
        };
        plan.PropertyChanged += (_, change) => Console.WriteLine($"{change.PropertyName}: {plan.Status}");
        plan.Withdraw.CanExecuteChanged += (_, _) =>
            Console.WriteLine($"button: {(plan.Withdraw.CanExecute(null) ? "enabled" : "disabled")}");
    }

    public List<ListRow<Request, string>> Rows { get; private set; }

    private static void Bind(ListRow<Request, string> row) =>
        ((INotifyPropertyChanged)row).PropertyChanged += (_, change) => Console.WriteLine($"{row.Item.Field}: {change.PropertyName}");

    public static void Press(ICommand button)
    {
        if (button.CanExecute(null)) button.Execute(null);
        else Console.WriteLine("the button is disabled");
    }
}
