// The same list with the core on a server: the page only sends what pointers and keys do, and shows what comes back. And at
// /shared?person=NAME a plan in a database that many people mark and put in order at once: by default in a file of SQLite's, or with
// --postgres "Host=…;Database=…" on a server.
using Lectica.Examples.NightPlan;
using Microsoft.EntityFrameworkCore;

var builder = WebApplication.CreateBuilder(args);
builder.Services.AddRazorComponents().AddInteractiveServerComponents();
builder.Services.AddDbContextFactory<SharedPlan>(options =>
{
    if (builder.Configuration["postgres"] is { Length: > 0 } server) options.UseNpgsql(server);
    else options.UseSqlite($"Data Source={builder.Configuration["file"] ?? Path.Combine(Path.GetTempPath(), "lectica-shared-plan.db")}");
});
var app = builder.Build();
using (var plan = app.Services.GetRequiredService<IDbContextFactory<SharedPlan>>().CreateDbContext()) plan.Prepare();
app.UseAntiforgery();
app.MapStaticAssets();
app.MapRazorComponents<Page>().AddInteractiveServerRenderMode();
app.Run();
