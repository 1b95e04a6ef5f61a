global using Xunit;
global using Lectica.Tests.House;
