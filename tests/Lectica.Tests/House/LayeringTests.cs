using System.Xml.Linq;
using Mono.Cecil;
using Mono.Cecil.Cil;

namespace Lectica.Tests.House
{
    /// <summary>Which project and which folder uses which, read from what was compiled.</summary>
    public sealed class LayeringTests
    {
        /// <summary>
        /// From the bottom up: a folder may use those before it, and its own. Folders in one group do not use each other.
        /// </summary>
        private static readonly string[][] Layers =
        [
            ["Items"], ["Sources"], ["Input"], ["Layout"], ["Gestures"], ["Acts"], ["Selecting", "Marking", "Moving", "Swiping", "Finding"],
                ["Commands"], ["Frames"], ["Tracing"], [Values], ["States"], ["Shell"], [""],
        ];

        /// <summary>
        /// What an app's developer looks for first is in the root namespace. Most of it are plain values, such as options and events'
        /// arguments, and lie as low as what they are made of; only the façade and what stands beside it lie on top.
        /// </summary>
        private const string Values = "(values)";

        private static readonly string[] Facade = ["InteractiveList", "InteractiveList`2", "IHostedList", "ListGroup`2", "Transfer`2",
            "ListCommand`2", "ListRow`2", "RowCollection`2", "ListSection`2", "SectionCollection`2", "ChoiceField`2"];

        private static readonly Dictionary<string, string[]> Projects = new()
        {
            ["Lectica"] = [],
            ["Lectica.Testing"] = ["Lectica"],
            ["Lectica.Skia"] = ["Lectica"],
            ["Lectica.Storage"] = ["Lectica"],
            ["Lectica.Queries"] = ["Lectica"],
            ["Lectica.Blazor"] = ["Lectica"],
            ["Lectica.Cli"] = ["Lectica", "Lectica.Testing", "Lectica.Queries", "Lectica.Skia", "Lectica.Storage"],
        };

        [Fact]
        public void Folders_of_the_core_use_only_those_below_them() =>
        Assert.Empty(Forbidden(typeof(InteractiveList).Assembly.Location, "Lectica"));

        [Fact]
        public void A_planted_forbidden_use_is_found()
        {
            var found = Forbidden(typeof(LayeringTests).Assembly.Location, "Planted").ToList();
            Assert.Equal(
                ["Planted.Items.ByField uses Planted.Gestures.Thing", "Planted.Items.InABody uses Planted.Gestures.Thing",
                    "Planted.Selecting.Sibling uses Planted.Finding.Other"],
                found.Order());
        }

        [Fact]
        public void Projects_refer_only_to_those_they_may()
        {
            foreach (var folder in Directory.GetDirectories(Path.Combine(Repository.Root, "src")))
            {
                var name = Path.GetFileName(folder);
                if (!File.Exists(Path.Combine(folder, name + ".csproj"))) continue;
                var project = XDocument.Load(Path.Combine(folder, name + ".csproj"));
                var references = project.Descendants("ProjectReference")
                    .Select(r => Path.GetFileNameWithoutExtension(r.Attribute("Include")!.Value)).ToList();
                Assert.True(references.Count == references.Intersect(Projects[name]).Count(),
                    $"{name} refers to {string.Join(", ", references)}; it may to {string.Join(", ", Projects[name])}");
                if (name == "Lectica") Assert.Empty(project.Descendants("PackageReference"));
            }
        }

        [Fact]
        public void The_core_knows_no_file_no_screen_and_no_clock()
        {
            using var module = ModuleDefinition.ReadModule(typeof(InteractiveList).Assembly.Location);
            string[] forbidden = ["System.IO.File", "System.IO.FileStream", "System.Console", "System.DateTime",
                "System.Diagnostics.Stopwatch", "System.Threading.Thread", "System.Threading.Timer"];
            var used = module.GetTypeReferences().Select(t => t.FullName).Intersect(forbidden);
            Assert.Empty(used);
        }

        private static IEnumerable<string> Forbidden(string assembly, string root)
        {
            using var module = ModuleDefinition.ReadModule(assembly);
            var found = new HashSet<string>();
            foreach (var type in module.GetTypes())
            {
                var outer = Outermost(type);
                if (LayerOf(outer, root) is not { } from) continue;
                foreach (var used in UsedBy(type))
                    if (used is not null && used.Scope.Name.Replace(".dll", "", StringComparison.Ordinal) == module.Assembly.Name.Name
                        || used is TypeDefinition)
                        if (LayerOf(Outermost(used), root) is { } to && !May(from, to))
                            found.Add($"{outer.FullName} uses {Outermost(used).FullName}");
            }
            return found;
        }

        private static bool May((int Layer, string Folder) from, (int Layer, string Folder) to) =>
            to.Layer < from.Layer || to.Folder == from.Folder;

        private static TypeReference Outermost(TypeReference type)
        {
            while (type.DeclaringType is not null) type = type.DeclaringType;
            return type;
        }

        private static (int Layer, string Folder)? LayerOf(TypeReference type, string root)
        {
            var space = type.Namespace;
            if (space != root && !space.StartsWith(root + ".", StringComparison.Ordinal)) return null;
            var folder = space == root ? (Facade.Contains(type.Name) ? "" : Values) : space[(root.Length + 1)..].Split('.')[0];
            var layer = Array.FindIndex(Layers, l => l.Contains(folder));
            Assert.True(layer >= 0, $"the folder {folder} has no place in the layers");
            return (layer, folder);
        }

        /// <summary>Every type that a type names: bases, members, signatures, attributes, and what its code touches.</summary>
        private static IEnumerable<TypeReference> UsedBy(TypeDefinition type)
        {
            var used = new List<TypeReference?> { type.BaseType };
            used.AddRange(type.Interfaces.Select(i => i.InterfaceType));
            used.AddRange(type.Fields.Select(f => f.FieldType));
            used.AddRange(type.Properties.Select(p => p.PropertyType));
            used.AddRange(type.Events.Select(e => e.EventType));
            foreach (var method in type.Methods)
            {
                used.Add(method.ReturnType);
                used.AddRange(method.Parameters.Select(p => p.ParameterType));
                if (!method.HasBody) continue;
                used.AddRange(method.Body.Variables.Select(v => v.VariableType));
                foreach (var instruction in method.Body.Instructions)
                    switch (instruction.Operand)
                    {
                        case TypeReference t:
                            used.Add(t);
                            break;
                        case MethodReference m:
                            used.Add(m.DeclaringType);
                            used.Add(m.ReturnType);
                            used.AddRange(m.Parameters.Select(p => p.ParameterType));
                            if (m is GenericInstanceMethod g) used.AddRange(g.GenericArguments);
                            break;
                        case FieldReference f:
                            used.Add(f.DeclaringType);
                            used.Add(f.FieldType);
                            break;
                    }
            }
            return used.SelectMany(Flatten);
        }

        private static IEnumerable<TypeReference> Flatten(TypeReference? type)
        {
            if (type is null or GenericParameter) yield break;
            if (type is GenericInstanceType generic)
                foreach (var argument in generic.GenericArguments.SelectMany(Flatten)) yield return argument;
            if (type is TypeSpecification wrapped)
                foreach (var element in Flatten(wrapped.ElementType)) yield return element;
            else yield return type;
        }
    }
}

// Planted uses for the test above: two that go up, by a field and inside a method, one between siblings, and one that is allowed.
namespace Planted.Gestures
{
    internal sealed class Thing
    {
        public static int Number => 7;
        public Items.InABody? Allowed { get; set; }
    }
}

namespace Planted.Items
{
    internal sealed class InABody
    {
        public static int Get() => Gestures.Thing.Number;
    }

    internal sealed class ByField
    {
        public List<Gestures.Thing[]>? Field { get; set; }
    }
}

namespace Planted.Finding
{
    internal sealed class Other;
}

namespace Planted.Selecting
{
    internal sealed class Sibling
    {
        public Finding.Other? Found { get; set; }
    }
}
