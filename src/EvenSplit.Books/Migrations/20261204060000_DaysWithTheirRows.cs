using EvenSplit.Books.Model;
using Microsoft.EntityFrameworkCore.Infrastructure;
using Microsoft.EntityFrameworkCore.Migrations;

namespace EvenSplit.Books.Migrations;

/// <summary>Sums of the journal's days are added to in the transaction that posts a row, no longer by the side: rows that waited for it are added here.</summary>
[DbContext(typeof(BookDbContext))]
[Migration("20261204060000_DaysWithTheirRows")]
public sealed class DaysWithTheirRows : Migration
{
    /// <summary>Names of accounts as <c>JournalAccount.Part</c> writes them, as far as SQL can tell: no control characters but tabs and ends of lines, and runs of eight spaces at most.</summary>
    internal const string Rows =
        """
        INSERT INTO JournalDays ("On", Kind, Of, Currency, Debit, Credit, Postings)
        SELECT PostedOn, 0, Payee, Currency, SUM(MAX(0, Amount)), SUM(MAX(0, -Amount)), COUNT(*) FROM Entries
        WHERE Id > COALESCE((SELECT AddedTo FROM JournalMarks WHERE Kind = 0), 0) AND Amount <> 0 GROUP BY PostedOn, Payee, Currency
        ON CONFLICT DO UPDATE SET Debit = Debit + excluded.Debit, Credit = Credit + excluded.Credit, Postings = Postings + excluded.Postings;
        WITH Parts (Name, Part) AS (
            SELECT Name, trim(replace(replace(replace(replace(replace(replace(replace(replace(replace(
                Name, ';', ' '), '|', ' '), ':', ' '), char(9), ' '), char(10), ' '), char(13), ' '), '  ', ' '), '  ', ' '), '  ', ' '))
            FROM (SELECT Processor AS Name FROM Bookings UNION SELECT Channel FROM Bookings)),
        Waiting AS (
            SELECT b.*, CASE b.Processor WHEN '' THEN 'direct' ELSE p.Part END AS Account, c.Part AS Seller FROM Bookings b JOIN Parts p ON p.Name = b.Processor JOIN Parts c ON c.Name = b.Channel
            WHERE b.Id > COALESCE((SELECT AddedTo FROM JournalMarks WHERE Kind = 1), 0)),
        Postings ("On", Of, Currency, Amount) AS (
            SELECT "On", 'Assets:Clearing:' || Account, Currency, Goods + Shipping + Tax - ProcessingFee FROM Waiting
            UNION ALL SELECT "On", 'Expenses:Fees:Processing', Currency, ProcessingFee FROM Waiting
            UNION ALL SELECT "On", 'Income:Sales', Currency, -Goods FROM Waiting
            UNION ALL SELECT "On", 'Income:Shipping', Currency, -Shipping FROM Waiting
            UNION ALL SELECT "On", 'Liabilities:Tax', Currency, -Tax FROM Waiting
            UNION ALL SELECT "On", 'Expenses:Fees:Channel', Currency, ChannelFee FROM Waiting
            UNION ALL SELECT "On", 'Liabilities:Channel:' || Seller, Currency, -ChannelFee FROM Waiting
            UNION ALL SELECT "On", 'Assets:Rebates:' || Seller, Currency, Rebate FROM Waiting
            UNION ALL SELECT "On", 'Income:Rebates', Currency, -Rebate FROM Waiting)
        INSERT INTO JournalDays ("On", Kind, Of, Currency, Debit, Credit, Postings)
        SELECT "On", 1, Of, Currency, SUM(MAX(0, Amount)), SUM(MAX(0, -Amount)), COUNT(*) FROM Postings WHERE Amount <> 0 GROUP BY "On", Of, Currency
        ON CONFLICT DO UPDATE SET Debit = Debit + excluded.Debit, Credit = Credit + excluded.Credit, Postings = Postings + excluded.Postings;
        """;

    protected override void Up(MigrationBuilder migrationBuilder) => migrationBuilder.Sql($"{Rows} DROP TABLE JournalMarks;");
}
