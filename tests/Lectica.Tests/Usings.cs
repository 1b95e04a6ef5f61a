global using Lectica.Tests.House;
global using Xunit;
global using static Microsoft.Playwright.Assertions;
