// The same list with the core on a server: the page only sends what pointers and keys do, and shows what comes back.
using Lectica.Examples.NightPlan;

var builder = WebApplication.CreateBuilder(args);
builder.Services.AddRazorComponents().AddInteractiveServerComponents();
var app = builder.Build();
app.UseAntiforgery();
app.MapStaticAssets();
app.MapRazorComponents<Page>().AddInteractiveServerRenderMode();
app.Run();
