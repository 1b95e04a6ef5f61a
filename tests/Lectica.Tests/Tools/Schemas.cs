using NJsonSchema;

namespace Lectica.Tests.Tools;

/// <summary>The published schemas, as a validator reads them.</summary>
internal static class Schemas
{
    private static readonly Dictionary<string, JsonSchema> Loaded = [];

    public static IReadOnlyList<string> Errors(string name, string json)
    {
        JsonSchema? schema;
        lock (Loaded)
            if (!Loaded.TryGetValue(name, out schema))
                Loaded[name] = schema = JsonSchema.FromFileAsync(Repository.At("docs", "schemas", name + ".schema.json")).GetAwaiter()
                    .GetResult();
        return [.. schema.Validate(json).Select(e => e.ToString())];
    }

    public static void Valid(string name, string json) => Assert.Empty(Errors(name, json));
}
