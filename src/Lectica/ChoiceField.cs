using System.ComponentModel;
using Lectica.Acts;
using Lectica.Frames;
using Lectica.Input;
using Lectica.Items;

namespace Lectica;

/// <summary>A value was chosen.</summary>
/// <param name="oldValue">The value before, or the type's default.</param>
/// <param name="newValue">The value now.</param>
public sealed class ChosenEventArgs<TItem>(TItem? oldValue, TItem? newValue) : EventArgs
{
    /// <summary>The value before, or the type's default.</summary>
    public TItem? OldValue { get; } = oldValue;

    /// <summary>The value now.</summary>
    public TItem? NewValue { get; } = newValue;
}

/// <summary>
/// A closed single choice that opens into a list, after the select-only combobox pattern of the WAI-ARIA Authoring Practices. People pick
/// only from the list; the program may set a value that is not in it, and no value by <see cref="Clear"/>. Moving through the open list
/// chooses nothing yet: Enter, Space, Tab or a tap do, and Escape or <see cref="Close"/> leaves the value as it was.
/// <para>It lies at (0, 0): the field first, the open options below it. It belongs to the context or thread of its list.</para>
/// </summary>
public sealed class ChoiceField<TItem, TKey> : INotifyPropertyChanged where TKey : notnull
{
    /// <summary>The field's height, px: at least 44, for fingers (WCAG 2.5.5).</summary>
    public const double Height = 48;

    private bool _pressed, _hasFocus;
    private double _top;
    private string? _text;

    /// <summary>A choice from these items.</summary>
    /// <param name="items">The options. A collection that reports its changes is followed live.</param>
    /// <param name="keyOf">Gives an option's key.</param>
    /// <param name="options">How the open list behaves; its mode and keys are the field's own.</param>
    public ChoiceField(IReadOnlyList<TItem> items, Func<TItem, TKey> keyOf, ListOptions? options = null)
    {
        options ??= ListOptions.Default;
        List = InteractiveList.Of(items, keyOf, options with
        {
            Mode = SelectionMode.Single,
            Keys = Choosing,
            Viewport = options.Viewport with { Height = Math.Min(options.Viewport.Height, 6 * options.RowHeight) },
        });
        // Options may come, go or say something else: a value that comes back among them is selected there.
        List.FrameChanged += (_, _) =>
        {
            if (HasValue && List.Selection.Items.IsEmpty && List.Shell.Store.IndexOfItem(_value!) >= 0) SelectValue();
            Tell(nameof(Frame));
            if (_text == Text) return;
            _text = Text;
            Tell(nameof(Text));
        };
        List.Activated += (_, opened) => Choose(opened.Item, opened.Key);
        List.Tapped += (_, tap) => Choose(tap.Item, tap.Key);
    }

    private static KeyTable Choosing { get; } = new("choosing", [.. KeyTable.Toggling.Rules.Where(r => r.Acts is [ActKind.MoveCursor])]);

    /// <summary>The open list: its content, filter and disabled items can be set.</summary>
    public InteractiveList<TItem, TKey> List { get; }

    /// <summary>What is chosen here, for the host to draw and a screen reader to say.</summary>
    public string? Label
    {
        get;
        set
        {
            if (value == field) return;
            field = value;
            Tell(nameof(Label), nameof(Frame));
        }
    }

    /// <summary>What the field shows while there is no value; the phrases' word where null.</summary>
    [System.Diagnostics.CodeAnalysis.AllowNull]
    public string Prompt
    {
        get => field ?? List.Options.Phrases.Choose;
        set;
    }

    /// <summary>Whether there is a value.</summary>
    public bool HasValue { get; private set; }

    /// <summary>
    /// The value, or the type's default. Set by the program it need not be one of the options, and is not a choice of the user's; null is
    /// no value, and for values that are never null there is <see cref="Clear"/>.
    /// </summary>
    public TItem? Value
    {
        get => HasValue ? _value : default;
        set => Put(value, value is not null);
    }

    private TItem? _value;

    /// <summary>Takes the value away: the field shows its prompt again.</summary>
    public void Clear() => Put(default, false);

    private void Put(TItem? value, bool hasValue)
    {
        if (hasValue == HasValue && (!hasValue || EqualityComparer<TItem>.Default.Equals(value, _value))) return;
        (_value, HasValue) = (hasValue ? value : default, hasValue);
        SelectValue();
        Tell(nameof(Value), nameof(HasValue), nameof(Text), nameof(Frame));
    }

    // By its place: a key's default is a key like any other.
    private void SelectValue()
    {
        var index = HasValue ? List.Shell.Store.IndexOfItem(_value!) : -1;
        if (index < 0) List.Clear();
        else if (!List.Selection.Items.Contains(index)) List.DoAt(ActKind.Select, index);
    }

    /// <inheritdoc/>
    public event PropertyChangedEventHandler? PropertyChanged;

    private void Tell(params ReadOnlySpan<string> properties)
    {
        foreach (var property in properties) PropertyChanged?.Invoke(this, new(property));
    }

    /// <summary>What the field shows.</summary>
    public string Text => !HasValue ? Prompt : List.Content is { } content ? content(Value!).Label : Value!.ToString() ?? "";

    /// <summary>Whether the options show.</summary>
    public bool IsOpen
    {
        get;
        private set
        {
            if (value == field) return;
            field = value;
            Tell(nameof(IsOpen), nameof(Frame));
        }
    }

    /// <summary>People chose another value.</summary>
    public event EventHandler<ChosenEventArgs<TItem>>? Chosen;

    /// <summary>What there is to draw.</summary>
    public ChoiceFrame Frame => new(Label, Text, !HasValue, List.Viewport.Width, Height)
    {
        HasFocus = _hasFocus,
        Options = IsOpen ? List.Frame : null,
        OptionsTop = _top,
    };

    /// <summary>Shows the options, with the cursor on the value, else on the first.</summary>
    public void Open()
    {
        if (IsOpen) return;
        IsOpen = true;
        // Where there is no room below, and there is above, they open upward.
        var high = Math.Min(List.Viewport.Height, List.Frame.ContentHeight);
        _top = List.Shell.Core.State.Window.Host is { } window && Height + high > window.Bottom && -high >= window.Top ? -high : Height;
        var chosen = HasValue ? List.Selection.Items.NextAt(0) : -1;
        if (chosen < 0 || List.Rows.RowOf(chosen) is null) chosen = List.Rows.Shown.NextAt(0);
        if (chosen >= 0) List.MoveCursorTo(List.KeyAt(chosen));
        List.Focus();
    }

    /// <summary>Hides the options; the value stays.</summary>
    public void Close()
    {
        IsOpen = false;
        List.Blur();
    }

    /// <summary>Tells the field that the keyboard has gone elsewhere: it closes.</summary>
    public void Blur()
    {
        _hasFocus = false;
        Close();
    }

    /// <summary>Takes a key.</summary>
    /// <returns>Whether the field used it. Tab chooses and is left to the host, which moves the focus.</returns>
    public Response Take(KeyPress press)
    {
        _hasFocus = true;
        if (!IsOpen) return TakeClosed(press);
        switch (press.Key)
        {
            case "Escape":
                Close();
                return Response.Handled;
            case "Tab":
                ChooseCursor();
                return new(false);
            case "Enter" or " ":
            case "ArrowUp" when press.Modifiers == Modifiers.Alt:
                ChooseCursor();
                return Response.Handled;
            default:
                return List.Take(press);
        }
    }

    private Response TakeClosed(KeyPress press)
    {
        switch (press.Key)
        {
            case "Enter" or " " or "ArrowUp" when press.Modifiers == Modifiers.None:
            case "ArrowDown" when press.Modifiers is Modifiers.None or Modifiers.Alt:
                Open();
                return Response.Handled;
            case "Home" or "End" when press.Modifiers == Modifiers.None:
            case var _ when press.IsPrintable:
                Open();
                return List.Take(press);
            default:
                return new(false);
        }
    }

    /// <summary>
    /// Takes what a pointer did. A tap on the field opens or closes it, one on an option chooses it, one elsewhere closes.
    /// </summary>
    public Response Take(PointerSample sample)
    {
        var onField = sample.X >= 0 && sample.X < List.Viewport.Width && sample.Y >= 0 && sample.Y < Height;
        if (sample.Kind == SampleKind.Down)
        {
            _pressed = onField;
            if (onField) return Response.Handled;
            var onOptions = IsOpen && sample.X >= 0 && sample.X < List.Viewport.Width && sample.Y < _top + List.Viewport.Height
                && sample.Y >= _top;
            if (IsOpen && !onOptions) Close();
            if (!onOptions) return new(false);
        }
        if (_pressed)
        {
            if (sample.Kind is SampleKind.Up or SampleKind.Cancel)
            {
                _pressed = false;
                if (sample.Kind == SampleKind.Up && onField)
                {
                    _hasFocus = true;
                    if (IsOpen)
                    {
                        Close();
                    }
                    else
                    {
                        Open();
                        List.Use(byPointer: true);
                    }
                }
            }
            return Response.Handled;
        }
        return IsOpen ? List.Take(sample with { Y = sample.Y - _top }) : new(false);
    }

    private void ChooseCursor()
    {
        if (List.Selection.Cursor < 0) Close();
        else List.Activate(List.KeyAt(List.Selection.Cursor));
    }

    private void Choose(TItem item, TKey key)
    {
        if (!IsOpen) return;
        Close();
        var old = Value;
        if (HasValue && EqualityComparer<TItem>.Default.Equals(old, item)) return;
        Put(item, true);
        List.Select(key);
        Chosen?.Invoke(this, new(old, item));
    }
}
