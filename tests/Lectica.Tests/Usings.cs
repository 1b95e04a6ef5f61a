global using Lectica.Tests.House;
global using Xunit;
