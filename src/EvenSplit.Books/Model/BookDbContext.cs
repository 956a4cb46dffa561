using EvenSplit.Core;
using Microsoft.AspNetCore.Identity;
using Microsoft.AspNetCore.Identity.EntityFrameworkCore;
using Microsoft.EntityFrameworkCore;

namespace EvenSplit.Books.Model;

/// <summary>The book on disk. Money is INTEGER minor units beside a currency code; instants are UTC; dates are the book's.</summary>
public sealed class BookDbContext : IdentityDbContext<BookUser, IdentityRole, string>
{
    // So that a change of one row waits for its turn too.
    public BookDbContext(DbContextOptions<BookDbContext> options) : base(options) => Database.AutoTransactionBehavior = AutoTransactionBehavior.Always;

    /// <summary>What long work writes on this connection beside what it does.</summary>
    internal WrittenAlongside Alongside { get; } = new();

    public DbSet<BookRecord> Book => Set<BookRecord>();
    public DbSet<ProcessorRecord> Processors => Set<ProcessorRecord>();
    public DbSet<ChannelRecord> Channels => Set<ChannelRecord>();
    public DbSet<ProcessorScheduleRecord> ProcessorSchedules => Set<ProcessorScheduleRecord>();
    public DbSet<ChannelScheduleRecord> ChannelSchedules => Set<ChannelScheduleRecord>();
    public DbSet<ExchangeRateRecord> ExchangeRates => Set<ExchangeRateRecord>();
    public DbSet<AuditRecord> Audit => Set<AuditRecord>();
    public DbSet<ProductRecord> Products => Set<ProductRecord>();
    public DbSet<ProductCostRecord> ProductCosts => Set<ProductCostRecord>();
    public DbSet<CountedSaleRecord> CountedSales => Set<CountedSaleRecord>();
    public DbSet<CountedDayRecord> CountedDays => Set<CountedDayRecord>();
    public DbSet<OfferPathRecord> OfferPaths => Set<OfferPathRecord>();
    public DbSet<TargetRecord> Targets => Set<TargetRecord>();
    public DbSet<TargetReachedRecord> TargetsReached => Set<TargetReachedRecord>();
    public DbSet<RewardSchemeRecord> RewardSchemes => Set<RewardSchemeRecord>();
    public DbSet<CustomerCodeRecord> CustomerCodes => Set<CustomerCodeRecord>();
    public DbSet<StoreCreditRecord> StoreCredits => Set<StoreCreditRecord>();
    public DbSet<VariantRecord> Variants => Set<VariantRecord>();
    public DbSet<PayeeRecord> Payees => Set<PayeeRecord>();
    public DbSet<PayeeCodeRecord> PayeeCodes => Set<PayeeCodeRecord>();
    public DbSet<MembershipRecord> Memberships => Set<MembershipRecord>();
    public DbSet<AdvanceRecord> Advances => Set<AdvanceRecord>();
    public DbSet<AgreementRecord> Agreements => Set<AgreementRecord>();
    public DbSet<AgreementVersionRecord> AgreementVersions => Set<AgreementVersionRecord>();
    public DbSet<WithdrawnVersionRecord> WithdrawnVersions => Set<WithdrawnVersionRecord>();
    public DbSet<AgreementDraftRecord> AgreementDrafts => Set<AgreementDraftRecord>();
    public DbSet<AcceptanceRecord> Acceptances => Set<AcceptanceRecord>();
    public DbSet<BulkChangeRecord> BulkChanges => Set<BulkChangeRecord>();
    public DbSet<RehearsalRecord> Rehearsals => Set<RehearsalRecord>();
    public DbSet<AcceptedExceptionRecord> AcceptedExceptions => Set<AcceptedExceptionRecord>();
    public DbSet<EntryHoldRecord> EntryHolds => Set<EntryHoldRecord>();
    public DbSet<CauseNoteRecord> CauseNotes => Set<CauseNoteRecord>();
    public DbSet<InboxEventRecord> Inbox => Set<InboxEventRecord>();
    public DbSet<EventSourceRecord> EventSources => Set<EventSourceRecord>();
    public DbSet<ClickRecord> Clicks => Set<ClickRecord>();
    public DbSet<OrderRecord> Orders => Set<OrderRecord>();
    public DbSet<OrderLineRecord> OrderLines => Set<OrderLineRecord>();
    public DbSet<OrderExceptionRecord> OrderExceptions => Set<OrderExceptionRecord>();
    public DbSet<OrderCodeRecord> OrderCodes => Set<OrderCodeRecord>();
    public DbSet<OrderClickRecord> OrderClicks => Set<OrderClickRecord>();
    public DbSet<ProgressTrackRecord> ProgressTracks => Set<ProgressTrackRecord>();
    public DbSet<ProgressEventRecord> ProgressEvents => Set<ProgressEventRecord>();
    public DbSet<ProgressDayRecord> ProgressDays => Set<ProgressDayRecord>();
    public DbSet<PersonalTermRecord> PersonalTerms => Set<PersonalTermRecord>();
    public DbSet<EarlierFactsRecord> EarlierFacts => Set<EarlierFactsRecord>();
    public DbSet<RefundRecord> AllRefunds => Set<RefundRecord>();
    /// <summary>Those that count: without the withdrawn.</summary>
    public IQueryable<RefundRecord> Refunds => AllRefunds.Where(r => r.WithdrawnAt == null);
    public DbSet<RefundLineRecord> RefundLines => Set<RefundLineRecord>();
    public DbSet<EntryRecord> Entries => Set<EntryRecord>();
    public DbSet<OpenSumRecord> OpenSums => Set<OpenSumRecord>();
    public DbSet<TakenSumRecord> TakenSums => Set<TakenSumRecord>();
    public DbSet<TakingRecord> Takings => Set<TakingRecord>();
    public DbSet<EntrySumRecord> EntrySums => Set<EntrySumRecord>();
    public DbSet<PeriodTotalsRecord> PeriodTotals => Set<PeriodTotalsRecord>();
    public DbSet<SalesSumRecord> SalesSums => Set<SalesSumRecord>();
    public DbSet<ImportRecord> Imports => Set<ImportRecord>();
    public DbSet<FileSourceRecord> FileSources => Set<FileSourceRecord>();
    public DbSet<QuarantinedRowRecord> Quarantine => Set<QuarantinedRowRecord>();
    public DbSet<RecalculationOrderRecord> RecalculationOrders => Set<RecalculationOrderRecord>();
    public DbSet<RecalculationRecord> Recalculations => Set<RecalculationRecord>();
    public DbSet<PayRunRecord> PayRuns => Set<PayRunRecord>();
    public DbSet<RemittanceRecord> Remittances => Set<RemittanceRecord>();
    public DbSet<NotedInvoiceRecord> NotedInvoices => Set<NotedInvoiceRecord>();
    public DbSet<RecoupmentRecord> Recoupments => Set<RecoupmentRecord>();
    public DbSet<AdjustmentRecord> Adjustments => Set<AdjustmentRecord>();
    public DbSet<PayoutDetailsRecord> PayoutDetails => Set<PayoutDetailsRecord>();
    public DbSet<PayingAccountRecord> PayingAccounts => Set<PayingAccountRecord>();
    public DbSet<PaymentFileRecord> PaymentFiles => Set<PaymentFileRecord>();
    public DbSet<PaymentMessageRecord> PaymentMessages => Set<PaymentMessageRecord>();
    public DbSet<PaymentDoubtRecord> PaymentDoubts => Set<PaymentDoubtRecord>();
    public DbSet<RunRateRecord> RunRates => Set<RunRateRecord>();
    public DbSet<RunMarkRecord> RunMarks => Set<RunMarkRecord>();
    public DbSet<HolidayRecord> Holidays => Set<HolidayRecord>();
    public DbSet<PostingCauseRecord> PostingCauses => Set<PostingCauseRecord>();
    public DbSet<SentFormRecord> SentForms => Set<SentFormRecord>();
    public DbSet<UnknownBuyerRecord> UnknownBuyers => Set<UnknownBuyerRecord>();
    public DbSet<SessionRecord> Sessions => Set<SessionRecord>();
    public DbSet<BookCheckRecord> BookChecks => Set<BookCheckRecord>();
    public DbSet<WriteOffRecord> WriteOffs => Set<WriteOffRecord>();
    public DbSet<BookingRecord> Bookings => Set<BookingRecord>();
    public DbSet<MonthCloseRecord> MonthCloses => Set<MonthCloseRecord>();
    public DbSet<RowSealRecord> RowSeals => Set<RowSealRecord>();
    public DbSet<JournalDayRecord> JournalDays => Set<JournalDayRecord>();
    public DbSet<JournalAccountRecord> JournalAccounts => Set<JournalAccountRecord>();
    public DbSet<OutsideFileRecord> OutsideFiles => Set<OutsideFileRecord>();
    public DbSet<OutsideLineRecord> OutsideLines => Set<OutsideLineRecord>();
    public DbSet<StatementRecord> BankStatements => Set<StatementRecord>();
    public DbSet<AwaitedRecord> Awaited => Set<AwaitedRecord>();
    public DbSet<OrderToMatchRecord> OrdersToMatch => Set<OrderToMatchRecord>();
    public DbSet<ProcessorSumRecord> ProcessorSums => Set<ProcessorSumRecord>();
    public DbSet<NotSettledDayRecord> NotSettledDays => Set<NotSettledDayRecord>();
    public DbSet<SettlingRecord> Settlings => Set<SettlingRecord>();
    public DbSet<PartnerReportRecord> PartnerReports => Set<PartnerReportRecord>();
    public DbSet<BenchToMatchRecord> BenchToMatch => Set<BenchToMatchRecord>();
    public DbSet<BenchStateRecord> BenchStates => Set<BenchStateRecord>();
    public DbSet<ProcessorBenchRecord> ProcessorBenches => Set<ProcessorBenchRecord>();

    public DbSet<JoiningRecord> Joinings => Set<JoiningRecord>();
    public DbSet<PausedMembershipRecord> PausedMemberships => Set<PausedMembershipRecord>();
    public DbSet<ApplicationRecord> Applications => Set<ApplicationRecord>();
    public DbSet<InvitationRecord> Invitations => Set<InvitationRecord>();
    public DbSet<MailTemplateRecord> MailTemplates => Set<MailTemplateRecord>();
    public DbSet<TrustedPayeeRecord> TrustedPayees => Set<TrustedPayeeRecord>();
    public DbSet<NewPayeeRecord> NewPayees => Set<NewPayeeRecord>();
    public DbSet<PayeeLinkRecord> PayeeLinks => Set<PayeeLinkRecord>();
    public DbSet<PayeeSessionRecord> PayeeSessions => Set<PayeeSessionRecord>();
    public DbSet<PayeeQuestionRecord> PayeeQuestions => Set<PayeeQuestionRecord>();
    public DbSet<AgreementViewRecord> AgreementViews => Set<AgreementViewRecord>();
    public DbSet<PaymentRequestRecord> PaymentRequests => Set<PaymentRequestRecord>();
    public DbSet<TaxFormRecord> TaxForms => Set<TaxFormRecord>();
    public DbSet<MaterialRecord> Materials => Set<MaterialRecord>();
    public DbSet<MailDeliveryRecord> MailDeliveries => Set<MailDeliveryRecord>();
    public DbSet<PathApprovalRecord> PathApprovals => Set<PathApprovalRecord>();
    public DbSet<GivenGoodsRecord> GivenGoods => Set<GivenGoodsRecord>();
    public DbSet<PayeeLogin> PayeeLogins => Set<PayeeLogin>();
    public DbSet<LeaderboardRecord> Leaderboards => Set<LeaderboardRecord>();
    public DbSet<LeaderboardPlaceRecord> LeaderboardPlaces => Set<LeaderboardPlaceRecord>();
    public DbSet<SelfBillRecord> SelfBills => Set<SelfBillRecord>();

    protected override void ConfigureConventions(ModelConfigurationBuilder configuration)
    {
        configuration.Properties<DateTimeOffset>().HaveConversion<UtcTicks>();
        configuration.Properties<Rate>().HaveConversion<Millionths>();
    }

    protected override void OnModelCreating(ModelBuilder model)
    {
        base.OnModelCreating(model);
        model.Entity<ProcessorScheduleRecord>().HasKey(s => new { s.ProcessorId, s.From });
        model.Entity<ProcessorScheduleRecord>().HasOne<ProcessorRecord>().WithMany().HasForeignKey(s => s.ProcessorId);
        model.Entity<ChannelScheduleRecord>().HasKey(s => new { s.ChannelId, s.From });
        model.Entity<ChannelScheduleRecord>().HasOne<ChannelRecord>().WithMany().HasForeignKey(s => s.ChannelId);
        model.Entity<ExchangeRateRecord>().HasKey(r => new { r.From, r.To, r.Date });
        model.Entity<ProductRecord>().HasMany(p => p.Variants).WithOne().HasForeignKey(v => v.ProductId);
        model.Entity<ProductRecord>().HasMany(p => p.Collections).WithOne().HasForeignKey(c => c.ProductId);
        model.Entity<ProductRecord>().HasMany(p => p.Costs).WithOne().HasForeignKey(c => c.ProductId);
        model.Entity<ProductCostRecord>().HasKey(c => new { c.ProductId, c.From });
        model.Entity<CountedSaleRecord>().HasKey(s => new { s.Product, s.PlacedAt, s.OrderId, s.LineNumber });
        model.Entity<CountedSaleRecord>().HasIndex(s => s.OrderId);
        model.Entity<CountedDayRecord>().HasKey(d => new { d.Product, d.On });
        model.Entity<ProductCollectionRecord>().ToTable("ProductCollections").HasKey(c => new { c.ProductId, c.Collection });
        model.Entity<PayeeRecord>(payee =>
        {
            payee.HasMany(p => p.Codes).WithOne().HasForeignKey(c => c.PayeeId);
            payee.HasMany(p => p.Memberships).WithOne().HasForeignKey(m => m.PayeeId);
            payee.HasMany(p => p.Advances).WithOne().HasForeignKey(a => a.PayeeId);
            payee.HasMany(p => p.PersonalTerms).WithOne().HasForeignKey(t => t.PayeeId);
        });
        model.Entity<AdvanceRecord>().HasIndex(a => new { a.PayeeId, a.Reference }).IsUnique();
        model.Entity<AcceptanceRecord>(acceptance =>
        {
            acceptance.HasIndex(a => new { a.VersionId, a.Payee }).IsUnique();
            acceptance.HasOne<AgreementVersionRecord>().WithMany().HasForeignKey(a => a.VersionId);
            acceptance.HasOne<PayeeRecord>().WithMany().HasForeignKey(a => a.Payee);
        });
        model.Entity<PersonalTermRecord>().HasOne<AgreementRecord>().WithMany().HasForeignKey(t => t.AgreementId);
        model.Entity<PayeeCodeRecord>(code =>
        {
            code.Property(c => c.Code).UseCollation("NOCASE");
            code.HasIndex(c => c.Code);
        });
        model.Entity<MembershipRecord>().HasOne<AgreementRecord>().WithMany().HasForeignKey(m => m.AgreementId);
        model.Entity<AgreementRecord>().HasMany(a => a.Versions).WithOne().HasForeignKey(v => v.AgreementId);
        // Not unique: where one was withdrawn, another may take its day. The use case sees to it that one of a day governs.
        model.Entity<AgreementVersionRecord>().HasIndex(v => new { v.AgreementId, v.From });
        model.Entity<WithdrawnVersionRecord>().HasKey(w => w.VersionId);
        model.Entity<WithdrawnVersionRecord>().HasOne<AgreementVersionRecord>().WithOne().HasForeignKey<WithdrawnVersionRecord>(w => w.VersionId);
        ConfigureOffers(model);
        ConfigureSales(model);
        ConfigurePayRuns(model);
        ConfigureChecks(model);
        ConfigureReconcile(model);
        ConfigureJournal(model);
        ConfigureJoining(model);
        ConfigureOwn(model);
        // Said here, as the base class has passkeys only where its options ask for them, and a command of the machine has none.
        model.Entity<IdentityUserPasskey<string>>(passkey =>
        {
            passkey.ToTable("AspNetUserPasskeys").HasKey(p => p.CredentialId);
            passkey.HasOne<BookUser>().WithMany().HasForeignKey(p => p.UserId);
            passkey.OwnsOne(p => p.Data).ToJson();
        });
        model.Entity<PostingCauseRecord>().HasKey(c => c.FirstEntry);
        model.Entity<PostingCauseRecord>().Property(c => c.FirstEntry).ValueGeneratedNever();
        model.Entity<SentFormRecord>().HasKey(f => f.Token);
        model.Entity<SentFormRecord>().HasIndex(f => f.At);
        model.Entity<UnknownBuyerRecord>().HasKey(b => b.KeyHash);
        model.Entity<SessionRecord>().HasOne<BookUser>().WithMany().HasForeignKey(s => s.UserId);
        model.Entity<AuditRecord>().HasMany(a => a.Things).WithOne().HasForeignKey(t => t.AuditId);
        model.Entity<AuditRecord>().HasIndex(a => new { a.By, a.Id });
        model.Entity<AuditRecord>().HasIndex(a => a.At);
        model.Entity<AuditThingRecord>().ToTable("AuditThings").HasKey(t => new { t.AuditId, t.Thing });
        model.Entity<AuditThingRecord>().HasIndex(t => new { t.Thing, t.AuditId });
        model.Entity<RecalculationRecord>().Property(r => r.Touched).HasConversion(typeof(TouchedOrdersText), typeof(SetOnce));
        model.Entity<RecalculationOrderRecord>().ToTable("RecalculationOrders").HasKey(o => new { o.RecalculationId, o.At, o.OrderId });
        model.Entity<FileSourceRecord>().HasKey(s => new { s.Name, s.Kind });
        model.Entity<QuarantinedRowRecord>().HasIndex(r => new { r.State, r.ImportId, r.Row });
        model.Entity<QuarantinedRowRecord>().HasIndex(r => r.WaitsForOrder).HasFilter("WaitsForOrder IS NOT NULL AND State = 0");
        model.Entity<QuarantinedRowRecord>().HasOne<ImportRecord>().WithMany().HasForeignKey(r => r.ImportId);
    }

    private static void ConfigureJournal(ModelBuilder model)
    {
        model.Entity<BookingRecord>(booking =>
        {
            booking.Ignore(b => b.Charged);
            booking.HasIndex(b => b.OrderId);
            booking.HasIndex(b => new { b.Period, b.On });
            booking.HasIndex(b => b.ForPeriod).HasFilter("ForPeriod IS NOT NULL");
        });
        model.Entity<MonthCloseRecord>().HasIndex(c => c.Period).IsUnique().HasFilter("OpenedConfirmedBy IS NULL AND NOT IsWithdrawn");
        model.Entity<JournalAccountRecord>().HasKey(a => a.Account);
        model.Entity<RowSealRecord>().HasIndex(s => new { s.Kind, s.Period, s.FirstId }).IsUnique();
        model.Entity<RowSealRecord>().HasIndex(s => new { s.Kind, s.LastId });
        model.Entity<JournalDayRecord>().HasKey(d => new { d.On, d.Kind, d.Of, d.Currency });
    }

    private static void ConfigureOwn(ModelBuilder model)
    {
        model.Entity<PayeeLinkRecord>().HasKey(l => l.TokenHash);
        model.Entity<PayeeLinkRecord>().HasIndex(l => l.Payee);
        model.Entity<PayeeSessionRecord>().HasIndex(s => s.Payee);
        model.Entity<PayeeQuestionRecord>().HasIndex(q => q.Payee);
        model.Entity<PayeeQuestionRecord>().HasIndex(q => q.Id, "IX_PayeeQuestions_Open").HasFilter("AnsweredAt IS NULL");
        model.Entity<AgreementViewRecord>().HasKey(v => v.AgreementId);
        model.Entity<AgreementViewRecord>().HasOne<AgreementRecord>().WithMany().HasForeignKey(v => v.AgreementId);
        model.Entity<PaymentRequestRecord>().HasIndex(r => r.Payee, "IX_PaymentRequests_Open").IsUnique().HasFilter("RunId IS NULL AND WithdrawnAt IS NULL");
        model.Entity<TaxFormRecord>().HasIndex(f => f.Payee);
        model.Entity<TaxFormRecord>().HasIndex(f => f.Id, "IX_TaxForms_Waiting").HasFilter("CheckedAt IS NULL");
        model.Entity<MailDeliveryRecord>().HasIndex(d => d.NextAt, "IX_MailDeliveries_Waiting").HasFilter("State = 0");
        model.Entity<SelfBillRecord>().HasKey(b => new { b.RunId, b.Payee });
        model.Entity<SelfBillRecord>().HasIndex(b => new { b.Payee, b.Number }).IsUnique();
        model.Entity<LeaderboardRecord>().HasMany(b => b.Places).WithOne().HasForeignKey(p => p.BoardId);
        model.Entity<LeaderboardPlaceRecord>().HasKey(p => new { p.BoardId, p.Payee });
        // Tables of their own: no query for people of the house can find a payee.
        model.Entity<PayeeLoginToken>().HasBaseType((Type?)null).ToTable("PayeeLoginTokens").HasKey(t => new { t.UserId, t.LoginProvider, t.Name });
        model.Entity<PayeePasskey>(passkey =>
        {
            passkey.HasBaseType((Type?)null).ToTable("PayeePasskeys").HasKey(p => p.CredentialId);
            passkey.HasIndex(p => p.UserId);
            passkey.OwnsOne(p => p.Data).ToJson();
        });
    }

    private static void ConfigureJoining(ModelBuilder model)
    {
        model.Entity<JoiningRecord>().HasKey(j => j.AgreementId);
        model.Entity<JoiningRecord>().HasOne<AgreementRecord>().WithMany().HasForeignKey(j => j.AgreementId);
        model.Entity<PausedMembershipRecord>().HasKey(p => new { p.AgreementId, p.Payee });
        model.Entity<ApplicationRecord>(application =>
        {
            application.HasOne<AgreementRecord>().WithMany().HasForeignKey(a => a.AgreementId);
            application.HasIndex(a => new { a.State, a.Id });
            application.HasIndex(a => a.Email);
            application.HasIndex(a => a.TokenHash).IsUnique();
        });
        model.Entity<InvitationRecord>(invitation =>
        {
            invitation.HasOne<AgreementRecord>().WithMany().HasForeignKey(i => i.AgreementId);
            invitation.HasIndex(i => i.TokenHash).IsUnique();
            invitation.HasIndex(i => i.Email);
        });
        model.Entity<MailTemplateRecord>().HasKey(t => t.Kind);
        model.Entity<TrustedPayeeRecord>().HasKey(t => t.Payee);
        model.Entity<NewPayeeRecord>().HasKey(n => new { n.Payee, n.AgreementId });
        model.Entity<GivenGoodsRecord>().HasIndex(g => g.Payee);
        model.Entity<PathApprovalRecord>().HasKey(p => new { p.Payee, p.AgreementId, p.PathId });
    }

    private static void ConfigureReconcile(ModelBuilder model)
    {
        model.Entity<OutsideLineRecord>(line =>
        {
            line.Ignore(l => l.Difference);
            line.HasIndex(l => new { l.Bench, l.Source, l.LineId }).IsUnique();
            line.HasIndex(l => l.Order).HasFilter("\"Order\" IS NOT NULL");
            line.HasIndex(l => new { l.Bench, l.On, l.State });
            line.HasIndex(l => new { l.Bench, l.On, l.Findings, l.Currency, l.Gross, l.Fee, l.GrossOurs, l.FeeOurs }, "IX_OutsideLines_Open").HasFilter("State = 1");
            line.HasIndex(l => new { l.Bench, l.On }, "IX_OutsideLines_Differing").HasFilter("State <> 0");
            line.HasIndex(l => new { l.Bench, l.On }, "IX_OutsideLines_FeesAndPayouts").HasFilter("Kind >= 3");
            line.HasIndex(l => l.Reference, "IX_OutsideLines_BankReference").HasFilter("Bench = 1");
            line.HasIndex(l => l.Bench, "IX_OutsideLines_BankCredits").HasFilter("Bench = 1 AND Gross > 0");
            line.HasIndex(l => new { l.Bench, l.Source, l.Currency, l.Kind, l.Gross, l.Fee });
            line.HasIndex(l => l.ImportId);
        });
        model.Entity<OutsideFileRecord>().HasKey(f => f.ImportId);
        model.Entity<OutsideFileRecord>().HasOne<ImportRecord>().WithOne().HasForeignKey<OutsideFileRecord>(f => f.ImportId);
        model.Entity<StatementRecord>().ToTable("BankStatements").HasIndex(s => new { s.Account, s.Name }).IsUnique();
        model.Entity<AwaitedRecord>(awaited =>
        {
            awaited.HasKey(a => new { a.Bench, a.Ours });
            awaited.HasIndex(a => a.Order);
            awaited.HasIndex(a => new { a.Bench, a.Source, a.On, a.Currency, a.Gross, a.Fee });
            awaited.HasIndex(a => new { a.Bench, a.Gross, a.On });
        });
        model.Entity<BenchToMatchRecord>().ToTable("BenchToMatch").HasKey(c => new { c.Kind, c.Name });
        model.Entity<OrderToMatchRecord>().ToTable("OrdersToMatch").HasKey(o => o.Order);
        model.Entity<ProcessorSumRecord>().HasKey(s => new { s.Kind, s.Of, s.Currency });
        model.Entity<NotSettledDayRecord>().HasKey(d => new { d.Processor, d.On, d.Currency });
        model.Entity<SettlingRecord>().HasIndex(s => s.LineId);
        model.Entity<SettlingRecord>().HasIndex(s => s.Ours);
        model.Entity<SettlingRecord>().HasIndex(s => s.Until).HasFilter("Way = 3 AND UndoneBy IS NULL");
        model.Entity<ProcessorBenchRecord>().HasKey(p => p.Processor);
        model.Entity<PartnerReportRecord>().HasKey(r => r.Report);
        model.Entity<BenchStateRecord>().HasKey(s => s.Bench);
        model.Entity<BenchStateRecord>().Property(s => s.Bench).ValueGeneratedNever();
    }

    private static void ConfigureOffers(ModelBuilder model)
    {
        model.Entity<OfferPathRecord>().HasMany(p => p.Steps).WithOne().HasForeignKey(s => s.PathId);
        model.Entity<OfferStepRecord>(step =>
        {
            step.ToTable("OfferSteps").HasKey(s => new { s.PathId, s.Position });
            step.HasOne<ProductRecord>().WithMany().HasForeignKey(s => s.Product);
        });
        model.Entity<TargetRecord>().HasOne<AgreementRecord>().WithMany().HasForeignKey(t => t.AgreementId);
        model.Entity<TargetReachedRecord>(reached =>
        {
            reached.HasIndex(r => new { r.TargetId, r.Payee, r.WindowStart }).IsUnique();
            reached.HasIndex(r => r.State);
            reached.HasOne<TargetRecord>().WithMany().HasForeignKey(r => r.TargetId);
            reached.HasOne<PayeeRecord>().WithMany().HasForeignKey(r => r.Payee);
        });
        model.Entity<RewardSchemeRecord>().HasMany(s => s.Discounts).WithOne().HasForeignKey(d => d.SchemeId);
        model.Entity<FriendDiscountRecord>().ToTable("FriendDiscounts").HasKey(d => new { d.SchemeId, d.Collection });
        model.Entity<CustomerCodeRecord>().HasKey(c => c.Code);
        model.Entity<CustomerCodeRecord>().Property(c => c.Code).UseCollation("NOCASE");
        model.Entity<CustomerCodeRecord>().HasIndex(c => c.CustomerKey);
        model.Entity<StoreCreditRecord>().HasIndex(c => c.CustomerKey);
    }

    private static void ConfigureSales(ModelBuilder model)
    {
        model.Entity<OrderRecord>(order =>
        {
            order.Ignore(o => o.CurrentLines);
            order.HasIndex(o => o.OrderId).IsUnique();
            order.HasIndex(o => new { o.Period, o.PlacedAt, o.Id });
            order.HasIndex(o => new { o.AttributedTo, o.Period, o.PlacedAt, o.Id }).HasFilter("AttributedTo IS NOT NULL");
            order.HasIndex(o => new { o.Period, o.PlacedAt, o.Id }, "IX_Orders_WithExceptions").HasFilter("Exceptions > 0");
            order.HasIndex(o => new { o.Channel, o.Period, o.PlacedAt, o.Id });
            order.HasIndex(o => new { o.Period, o.PlacedAt, o.Id }, "IX_Orders_Refunded").HasFilter("IsRefunded");
            order.HasIndex(o => new { o.Period, o.PlacedAt, o.Id }, "IX_Orders_Contested").HasFilter("IsContested");
            order.HasIndex(o => new { o.Period, o.PlacedAt, o.Id }, "IX_Orders_NotCounted").HasFilter("Status <> 0");
            order.HasIndex(o => o.Origin).HasFilter("Origin IS NOT NULL");
            order.HasIndex(o => o.Visitor).HasFilter("Visitor IS NOT NULL");
            order.HasIndex(o => o.CustomerKey).HasFilter("CustomerKey IS NOT NULL");
            order.HasIndex(o => o.IsTest).HasFilter("IsTest");
            order.HasIndex(o => o.TestSince).HasFilter("TestSince IS NOT NULL");
            order.HasIndex(o => o.ManualPayee).HasFilter("ManualPayee IS NOT NULL");
            order.HasMany(o => o.Lines).WithOne().HasForeignKey(l => l.OrderId);
            order.HasMany(o => o.Codes).WithOne().HasForeignKey(c => c.OrderId);
            order.HasMany(o => o.Clicks).WithOne().HasForeignKey(c => c.OrderId);
        });
        model.Entity<OrderCodeRecord>(code =>
        {
            code.HasKey(c => new { c.OrderId, c.Position });
            code.Property(c => c.Code).UseCollation("NOCASE");
            code.HasIndex(c => c.Code);
        });
        model.Entity<AcceptedExceptionRecord>().HasKey(a => new { a.OrderId, a.Code, a.LineId, a.Payee });
        model.Entity<EntryHoldRecord>().HasIndex(h => h.OrderId).HasFilter("LetGoAt IS NULL");
        model.Entity<CauseNoteRecord>().HasIndex(n => new { n.Code, n.Subject });
        model.Entity<ImportRecord>().HasIndex(i => new { i.EventsOf, i.Kind }).IsUnique().HasFilter("EventsOf IS NOT NULL");
        model.Entity<InboxEventRecord>().HasIndex(e => new { e.Source, e.EventId }).IsUnique();
        model.Entity<InboxEventRecord>().HasIndex(e => new { e.State, e.Id }).HasFilter("State <> 1");
        model.Entity<InboxEventRecord>().HasIndex(e => e.Order).HasFilter("State = 2");
        model.Entity<ClickRecord>().HasIndex(c => new { c.Payee, c.At, c.Visitor, c.Order }).IsUnique();
        model.Entity<ClickRecord>().HasIndex(c => new { c.Visitor, c.At }).HasFilter("Visitor <> ''");
        model.Entity<ClickRecord>().HasIndex(c => c.Order).HasFilter("\"Order\" <> ''");
        model.Entity<ClickRecord>().HasIndex(c => c.Period);
        model.Entity<OrderClickRecord>().HasKey(c => new { c.OrderId, c.Position });
        model.Entity<OrderClickRecord>().HasIndex(c => c.Payee);
        model.Entity<ProgressTrackRecord>().HasKey(t => new { t.Payee, t.Agreement, t.Currency });
        model.Entity<ProgressEventRecord>().HasKey(e => new { e.Payee, e.Agreement, e.Currency, e.At, e.IsRefund, e.EventId });
        model.Entity<ProgressEventRecord>().HasIndex(e => e.OrderId);
        model.Entity<ProgressDayRecord>().HasKey(d => new { d.Payee, d.Agreement, d.Currency, d.On });
        model.Entity<ProgressDayRecord>().Ignore(d => d.Span);
        model.Entity<OrderLineRecord>().HasKey(l => new { l.OrderId, l.Number });
        model.Entity<OrderLineRecord>().HasIndex(l => new { l.Product, l.OrderId, l.Position });
        model.Entity<OrderLineRecord>().HasOne<ProductRecord>().WithMany().HasForeignKey(l => l.Product);
        model.Entity<OrderExceptionRecord>().HasIndex(e => new { e.Period, e.Code, e.Subject, e.OrderId }).HasFilter("IsOpen");
        model.Entity<OrderExceptionRecord>().HasIndex(e => new { e.Code, e.Subject, e.OrderId });
        model.Entity<OrderExceptionRecord>().HasOne<OrderRecord>().WithMany().HasForeignKey(e => e.OrderId);
        model.Entity<RefundRecord>(refund =>
        {
            refund.HasIndex(r => r.RefundId).IsUnique();
            refund.ToTable(nameof(Refunds));
            refund.HasOne<OrderRecord>().WithMany().HasForeignKey(r => r.OrderId);
            refund.HasMany(r => r.Lines).WithOne().HasForeignKey(l => l.RefundId);
        });
        model.Entity<RefundLineRecord>().HasKey(l => new { l.RefundId, l.Position });
        model.Entity<EarlierFactsRecord>().HasKey(f => new { f.OrderId, f.FactsHash });
        model.Entity<EntryRecord>(entry =>
        {
            entry.HasOne<OrderRecord>().WithMany().HasForeignKey(e => e.OrderId);
            entry.HasOne<PayeeRecord>().WithMany().HasForeignKey(e => e.Payee);
            // Each index ends in the key anyway.
            entry.HasIndex(e => new { e.Payee, e.PostedOn });
            entry.HasIndex(e => new { e.Period, e.PostedOn });
            entry.HasIndex(e => new { e.Payee, e.ClearsOn, e.OpenSince });
            // Reversals are few among the entries of a month.
            entry.HasIndex(e => new { e.Period, e.PostedOn }, "IX_Entries_Reversals").HasFilter("RefundId IS NOT NULL");
            // The view adds the run, which follows from the takings.
            entry.ToTable("Entries").ToView("PostedEntries");
            entry.Property(e => e.RunId).ValueGeneratedOnAddOrUpdate();
        });
        model.Entity<TakingRecord>().HasIndex(t => new { t.Payee, t.Id });
        model.Entity<TakingRecord>().HasIndex(t => new { t.RunId, t.Payee }).IsUnique();
        model.Entity<TakingRecord>().HasOne<PayRunRecord>().WithMany().HasForeignKey(t => t.RunId);
        model.Entity<TakenSumRecord>().HasKey(s => new { s.RunId, s.Payee, s.Currency, s.ClearsOn });
        model.Entity<TakenSumRecord>().HasOne<PayRunRecord>().WithMany().HasForeignKey(s => s.RunId);
        model.Entity<OpenSumRecord>().HasKey(s => new { s.Payee, s.Currency, s.ClearsOn });
        model.Entity<EntrySumRecord>().HasKey(s => new { s.Period, s.Payee, s.Currency, s.IsReversal });
        model.Entity<EntrySumRecord>().HasIndex(s => s.Payee);
        model.Entity<PeriodTotalsRecord>().HasKey(t => new { t.Period, t.Currency });
        model.Entity<SalesSumRecord>().HasKey(s => new { s.Period, s.BroughtBy, s.Channel, s.Currency, s.HasExceptions, s.IsRefunded });
    }

    private static void ConfigurePayRuns(ModelBuilder model)
    {
        model.Entity<PayRunRecord>().HasIndex(r => r.Reference).IsUnique();
        model.Entity<AdjustmentRecord>().HasIndex(a => a.Reference).IsUnique();
        model.Entity<PayRunRecord>().HasMany(r => r.Remittances).WithOne().HasForeignKey(r => r.RunId);
        model.Entity<RemittanceRecord>().HasIndex(r => new { r.RunId, r.Payee }).IsUnique();
        model.Entity<RemittanceRecord>().HasOne<PayeeRecord>().WithMany().HasForeignKey(r => r.Payee);
        model.Entity<RecoupmentRecord>().HasOne<AdvanceRecord>().WithMany().HasForeignKey(r => r.AdvanceId);
        model.Entity<RecoupmentRecord>().HasOne<PayRunRecord>().WithMany().HasForeignKey(r => r.RunId);
        model.Entity<AdjustmentRecord>().HasOne<PayeeRecord>().WithMany().HasForeignKey(a => a.Payee);
        model.Entity<AdjustmentRecord>().HasIndex(a => new { a.Payee, a.RunId });
        model.Entity<RemittanceRecord>().HasIndex(r => r.Payee);
        model.Entity<RemittanceRecord>().HasIndex(r => r.EndToEnd).HasFilter("EndToEnd IS NOT NULL");
        model.Entity<RemittanceRecord>().HasIndex(r => r.Reference).HasFilter("Reference IS NOT NULL");
        model.Entity<RemittanceRecord>().HasIndex(r => r.FileId).HasFilter("FileId IS NOT NULL");
        model.Entity<NotedInvoiceRecord>().HasKey(n => new { n.LineId, n.RunId });
        model.Entity<NotedInvoiceRecord>().HasIndex(n => new { n.RunId, n.Payee });
        model.Entity<PayoutDetailsRecord>().HasOne<PayeeRecord>().WithMany().HasForeignKey(d => d.Payee);
        model.Entity<PayingAccountRecord>().HasKey(a => a.Currency);
        model.Entity<PaymentFileRecord>().HasIndex(f => f.MessageId).IsUnique();
        model.Entity<PaymentFileRecord>().HasIndex(f => f.RunId);
        model.Entity<PaymentFileRecord>().HasOne<PayRunRecord>().WithMany().HasForeignKey(f => f.RunId);
        model.Entity<PaymentMessageRecord>().HasIndex(m => new { m.Kind, m.MessageId }).IsUnique();
        model.Entity<PaymentDoubtRecord>().HasOne<RemittanceRecord>().WithMany().HasForeignKey(d => d.RemittanceId);
        model.Entity<PaymentDoubtRecord>().HasIndex(d => d.SettledBy).HasFilter("SettledBy IS NULL");
        model.Entity<RunRateRecord>().HasKey(r => new { r.RunId, r.From, r.To });
        model.Entity<RunRateRecord>().HasOne<PayRunRecord>().WithMany().HasForeignKey(r => r.RunId);
        model.Entity<RunMarkRecord>().HasKey(m => new { m.RunId, m.Payee, m.Mark });
        model.Entity<RunMarkRecord>().HasOne<PayRunRecord>().WithMany().HasForeignKey(m => m.RunId);
        model.Entity<HolidayRecord>().HasKey(h => h.On);
        model.Entity<WriteOffRecord>().HasOne<PayeeRecord>().WithMany().HasForeignKey(w => w.Payee);
    }

    private static void ConfigureChecks(ModelBuilder model)
    {
        model.Entity<BookCheckRecord>().HasMany(c => c.Lines).WithOne().HasForeignKey(l => l.CheckId);
        model.Entity<CheckLineRecord>().ToTable("BookCheckLines").HasKey(l => new { l.CheckId, l.Position });
        model.Entity<CheckLineRecord>().HasMany(l => l.Differences).WithOne().HasForeignKey(d => new { d.CheckId, d.Position });
        model.Entity<CheckDifferenceRecord>().ToTable("BookCheckDifferences");
    }
}
