using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Lectica.Examples.NightPlan.Migrations.Sqlite
{
    /// <inheritdoc />
    public partial class FirstPlan : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.CreateTable(
                name: "lectica_marks",
                columns: table => new
                {
                    item = table.Column<string>(type: "TEXT", nullable: false),
                    person = table.Column<string>(type: "TEXT", maxLength: 200, nullable: false),
                    name = table.Column<string>(type: "TEXT", maxLength: 100, nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_lectica_marks", x => new { x.name, x.item, x.person });
                });

            migrationBuilder.CreateTable(
                name: "lectica_snapshots",
                columns: table => new
                {
                    list = table.Column<string>(type: "TEXT", maxLength: 200, nullable: false),
                    person = table.Column<string>(type: "TEXT", maxLength: 200, nullable: false),
                    json = table.Column<string>(type: "TEXT", nullable: false),
                    version = table.Column<long>(type: "INTEGER", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_lectica_snapshots", x => new { x.list, x.person });
                });

            migrationBuilder.CreateTable(
                name: "Requests",
                columns: table => new
                {
                    Id = table.Column<string>(type: "TEXT", nullable: false),
                    Field = table.Column<string>(type: "TEXT", nullable: false),
                    Requester = table.Column<string>(type: "TEXT", nullable: false),
                    Place = table.Column<string>(type: "TEXT", nullable: false)
                },
                constraints: table =>
                {
                    table.PrimaryKey("PK_Requests", x => x.Id);
                });

            migrationBuilder.CreateIndex(
                name: "IX_lectica_marks_person_name_item",
                table: "lectica_marks",
                columns: new[] { "person", "name", "item" });

            migrationBuilder.CreateIndex(
                name: "IX_Requests_Place_Id",
                table: "Requests",
                columns: new[] { "Place", "Id" });
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropTable(
                name: "lectica_marks");

            migrationBuilder.DropTable(
                name: "lectica_snapshots");

            migrationBuilder.DropTable(
                name: "Requests");
        }
    }
}
