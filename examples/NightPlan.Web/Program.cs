using System.Runtime.InteropServices;
using Lectica.Examples.NightPlan;
using Microsoft.AspNetCore.Components.WebAssembly.Hosting;

// The browser gives the runtime memory in steps of a fifth, each in the middle of whatever needs it. What use needs is asked for now,
// and given back to the runtime: what nobody has written to costs no memory.
try
{
    unsafe { NativeMemory.Free(NativeMemory.Alloc(48 << 20)); }
}
catch (OutOfMemoryException)
{
    // A device that has less goes on as far as that takes it.
}

var builder = WebAssemblyHostBuilder.CreateDefault(args);
builder.RootComponents.Add<App>("#app");
await builder.Build().RunAsync();
