using Lectica.Items;
using Lectica.Selecting;

namespace Lectica.Blazor;

/// <summary>One row as elements.</summary>
public sealed partial class RowElement<TItem>
{
    private string Place => Look.List.LeastHeight is { } least && Look.Row.Kind == RowKind.Item
        ? $"transform:translateY({Css.Number(Look.Top)}px);min-height:{Css.Number(least)}px" : $"transform:translateY({Css.Number(Look.Top)}px);height:{Css.Number(Look.Row.Height)}px";

    private static string Checked(TriState state) => state switch { TriState.On => "true", TriState.Mixed => "mixed", _ => "false" };
}
