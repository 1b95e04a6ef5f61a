// The same list with the core on a server: the page only sends what pointers and keys do, and shows what comes back. And at
// /shared?person=NAME a plan in a database that many people mark and put in order at once: by default in a file of SQLite's, or with
// --postgres "Host=…;Database=…" on a server.
using Lectica.Examples.NightPlan;
using Microsoft.EntityFrameworkCore;

var builder = WebApplication.CreateBuilder(args);
builder.Services.AddRazorComponents().AddInteractiveServerComponents();
var server = builder.Configuration["postgres"];
var file = builder.Configuration["file"] ?? Path.Combine(Path.GetTempPath(), "lectica-night-plan.db");
builder.Services.AddDbContextFactory<PostgresPlan>(options => options.UseNpgsql(server));
builder.Services.AddDbContextFactory<SqlitePlan>(options => options.UseSqlite($"Data Source={file}"));
builder.Services.AddSingleton<Func<SharedPlan>>(services => server is { Length: > 0 }
    ? services.GetRequiredService<IDbContextFactory<PostgresPlan>>().CreateDbContext
    : services.GetRequiredService<IDbContextFactory<SqlitePlan>>().CreateDbContext);
var app = builder.Build();
using (var plan = app.Services.GetRequiredService<Func<SharedPlan>>()()) plan.Prepare();
app.UseAntiforgery();
app.MapStaticAssets();
app.MapRazorComponents<Page>().AddInteractiveServerRenderMode();
app.Run();
