using System.Globalization;
using Lectica.Acts;
using Lectica.Input;
using Lectica.Layout;
using Lectica.Testing;

namespace Lectica.Cli;

/// <summary>The options of a list, as a list file has them.</summary>
internal sealed class FileOptions(ListFileJson json, FileErrors errors)
{
    /// <summary>Reads and checks them.</summary>
    /// <exception cref="InputException">One of them cannot be; the message says where and what would be right.</exception>
    public ListOptions Read()
    {
        if (json is { Strip: not null, Tiles: not null })
            throw errors.Error("strip", "items lie in tiles or in a strip: leave one of them out.");
        var keys = KeyTable.All.FirstOrDefault(t => t.Name == (json.Keys ?? "moving"))
            ?? throw errors.Unknown("keys", json.Keys!, KeyTable.All.Select(t => t.Name));
        foreach (var (text, acts) in json.Chords ?? [])
        {
            ActKind ActOf(string name) => ActNames.Find(name) ?? throw errors.Unknown("chords", name, ActNames.All);
            keys = keys.With(new(errors.ChordOf(text, "chords"), [.. acts.Select(ActOf)], Direction.Here));
        }
        var options = new ListOptions
        {
            Title = json.Title,
            Mode = json.Mode switch
            {
                null or "single" => SelectionMode.Single,
                "none" => SelectionMode.None,
                "single-required" => SelectionMode.SingleRequired,
                "multiple" => SelectionMode.Multiple,
                var other => throw errors.Unknown("mode", other, ["none", "single", "single-required", "multiple"]),
            },
            Limit = json.Limit ?? int.MaxValue,
            AlwaysSelecting = json.AlwaysSelecting,
            EndsSelectingWhenEmpty = json.EndsSelectingWhenEmpty,
            KeepsHiddenSelected = json.KeepsHiddenSelected,
            Keys = keys,
            ModKey = json.Mod switch
            {
                null or "ctrl" => ModKey.Ctrl,
                "meta" => ModKey.Meta,
                var other => throw errors.Unknown("mod", other, ["ctrl", "meta"]),
            },
            IsRightToLeft = json.RightToLeft,
            Culture = Culture(),
            Parts = Parts(),
            SpaceMark = json.SpaceMark,
            LongPress = json.LongPress switch
            {
                null or "menu" => LongPressMeaning.Menu,
                "start-selecting" => LongPressMeaning.StartSelecting,
                "grab" => LongPressMeaning.Grab,
                "nothing" => LongPressMeaning.Nothing,
                var other => throw errors.Unknown("longPress", other, ["menu", "start-selecting", "grab", "nothing"]),
            },
            MayMove = json.MayMove,
            ReducedMotion = json.ReducedMotion,
            Thresholds = ThresholdsJson.Read(json.Thresholds, errors.Error),
            RowHeight = json.RowHeight ?? 52,
            Layout = json.Strip is { } strip ? new Strip(strip.ItemWidth) { HeadingWidth = strip.HeadingWidth } : json.Tiles is { } tiles
                ? new Tiles(tiles.LeastWidth, tiles.Height) { Gap = tiles.Gap } : ListLayout.Rows,
            Viewport = json.Viewport is { } v ? new(v.Width, v.Height) : Viewport.Default,
        };
        try
        {
            options.Validate();
        }
        catch (ArgumentOutOfRangeException e)
        {
            var field = e.ParamName switch
            {
                nameof(options.Limit) => "limit",
                nameof(options.RowHeight) => "rowHeight",
                nameof(options.Viewport) => "viewport",
                nameof(options.Layout) => json.Strip is null ? "tiles" : "strip",
                _ => "thresholds",
            };
            throw errors.Error(field, e.Message.Split(" (Parameter")[0]);
        }
        return options;
    }

    private CultureInfo Culture()
    {
        try
        {
            return json.Culture is { } name ? CultureInfo.GetCultureInfo(name) : CultureInfo.InvariantCulture;
        }
        catch (CultureNotFoundException)
        {
            throw errors.Error("culture", $"'{json.Culture}' is not a culture: write a BCP 47 tag such as en, de-CH or ar.");
        }
    }

    private RowParts Parts()
    {
        var parts = new RowParts();
        foreach (var name in json.Parts ?? [])
            parts = name switch
            {
                "check" => parts with { Check = true },
                "menu" => parts with { Menu = true },
                "handle" => parts with { Handle = true },
                _ when name.StartsWith("mark:", StringComparison.Ordinal) && name.Length > 5 =>
                    parts with { Marks = parts.Marks.Add(name[5..]) },
                _ => throw errors.Unknown("parts", name, ["check", "mark:NAME", "menu", "handle"]),
            };
        foreach (var name in parts.Marks) CheckMark("parts", name);
        if (parts.Marks.GroupBy(m => m).FirstOrDefault(g => g.Count() > 1) is { } twice)
            throw errors.Error("parts", $"'mark:{twice.Key}' is there twice.");
        if (parts.Handle && !json.MayMove)
            throw errors.Error("parts", "rows have a handle, and nothing may be moved: add \"mayMove\": true, or leave the handle out.");
        if (json.SpaceMark is { } space) CheckMark("spaceMark", space);
        return parts;
    }

    private void CheckMark(string field, string name)
    {
        string[] names = [.. (json.Marks ?? []).Select(m => m.Name ?? "")];
        if (!names.Contains(name))
            throw errors.Error(field,
                $"there is no mark '{name}': {(names.Length == 0 ? "the file has no marks" : $"there are {string.Join(", ", names)}")}.");
    }
}
