namespace Lectica.Shell;

/// <summary>Who listens to a list's events. The façade adds and removes, the parts raise.</summary>
internal sealed class Events<TItem, TKey> where TKey : notnull
{
    public EventHandler<TappedEventArgs<TItem, TKey>>? Tapped { get; set; }

    public EventHandler<SelectionChangedEventArgs<TItem, TKey>>? SelectionChanged { get; set; }

    public EventHandler<ActivatedEventArgs<TItem, TKey>>? Activated { get; set; }

    public EventHandler<PressedEventArgs<TItem, TKey>>? PressChanged { get; set; }

    public EventHandler<MenuRequestedEventArgs<TItem, TKey>>? MenuRequested { get; set; }

    public EventHandler? MenuClosed { get; set; }

    public EventHandler<MoveRequestedEventArgs<TItem, TKey>>? MoveRequested { get; set; }

    public EventHandler<SortRequestedEventArgs>? SortRequested { get; set; }

    public EventHandler<InsertRequestedEventArgs<TItem>>? InsertRequested { get; set; }

    public EventHandler<MovedEventArgs<TItem, TKey>>? Moved { get; set; }

    public EventHandler<MarkChangedEventArgs<TItem>>? MarkChanged { get; set; }

    public EventHandler<CommandRanEventArgs<TItem, TKey>>? CommandRan { get; set; }

    public EventHandler<CommandFailedEventArgs<TItem, TKey>>? CommandFailed { get; set; }
    public EventHandler<CommandCancelledEventArgs<TItem, TKey>>? CommandCancelled { get; set; }

    public EventHandler<ConfirmationEventArgs<TItem, TKey>>? ConfirmationRequested { get; set; }

    public EventHandler<ReadFailedEventArgs>? ReadFailed { get; set; }

    public EventHandler? RetryRequested { get; set; }

    public EventHandler? MoreWanted { get; set; }
}
