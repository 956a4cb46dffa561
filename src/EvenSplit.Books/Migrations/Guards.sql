-- What the database holds to, whatever the code does. Made anew whenever this file has changed; a test lists and tries them.

-- Ids of orders are found by any three letters of them. What is new is put into that index many at once, see OrderTexts: by a trigger, it went to the disk with each.
CREATE TRIGGER Orders_TextWhenGone AFTER DELETE ON Orders BEGIN DELETE FROM OrderTexts WHERE rowid = OLD.Id; END;

-- Never deleted.
CREATE TRIGGER Entries_NoDelete BEFORE DELETE ON Entries BEGIN SELECT RAISE(ABORT, 'an entry is never deleted, only followed by another'); END;
CREATE TRIGGER AgreementVersions_NoDelete BEFORE DELETE ON AgreementVersions WHEN EXISTS (SELECT 1 FROM Memberships WHERE AgreementId = OLD.AgreementId) OR EXISTS (SELECT 1 FROM Entries WHERE Agreement = OLD.AgreementId) BEGIN SELECT RAISE(ABORT, 'a published version is never deleted'); END;
CREATE TRIGGER Audit_NoDelete BEFORE DELETE ON Audit BEGIN SELECT RAISE(ABORT, 'the audit log is never shortened'); END;
CREATE TRIGGER AuditThings_NoDelete BEFORE DELETE ON AuditThings BEGIN SELECT RAISE(ABORT, 'the audit log is never shortened'); END;
CREATE TRIGGER Acceptances_NoDelete BEFORE DELETE ON Acceptances BEGIN SELECT RAISE(ABORT, 'an acceptance is never deleted'); END;
CREATE TRIGGER SelfBills_NoDelete BEFORE DELETE ON SelfBills BEGIN SELECT RAISE(ABORT, 'an invoice that was issued is never deleted'); END;
CREATE TRIGGER StoreCredits_NoDelete BEFORE DELETE ON StoreCredits BEGIN SELECT RAISE(ABORT, 'store credit that was given is never deleted'); END;
CREATE TRIGGER PaymentFiles_NoDelete BEFORE DELETE ON PaymentFiles BEGIN SELECT RAISE(ABORT, 'a payment file is never deleted'); END;
CREATE TRIGGER PayRuns_NoDelete BEFORE DELETE ON PayRuns WHEN OLD.State > 0 BEGIN SELECT RAISE(ABORT, 'a locked run is never deleted'); END;
CREATE TRIGGER Adjustments_NoDelete BEFORE DELETE ON Adjustments WHEN OLD.RunId IS NOT NULL BEGIN SELECT RAISE(ABORT, 'an adjustment that a run has taken is never deleted'); END;
-- A lock may be taken back until the run is approved.
CREATE TRIGGER Remittances_NoDelete BEFORE DELETE ON Remittances WHEN (SELECT State FROM PayRuns WHERE Id = OLD.RunId) <> 1 BEGIN SELECT RAISE(ABORT, 'a remittance of a run that was approved is never deleted'); END;
-- A taking goes as it came, the last of a payee first; what went on from it would otherwise take its entries.
CREATE TRIGGER Takings_NoDelete BEFORE DELETE ON Takings WHEN (SELECT State FROM PayRuns WHERE Id = OLD.RunId) <> 1 OR EXISTS (SELECT 1 FROM Takings WHERE Payee = OLD.Payee AND Id > OLD.Id) BEGIN SELECT RAISE(ABORT, 'what a run took is never let go once it was approved or a later run went on from it'); END;
CREATE TRIGGER TakenSums_NoDelete BEFORE DELETE ON TakenSums WHEN (SELECT State FROM PayRuns WHERE Id = OLD.RunId) <> 1 BEGIN SELECT RAISE(ABORT, 'the sums of what an approved run took are never deleted'); END;
CREATE TRIGGER Recoupments_NoDelete BEFORE DELETE ON Recoupments WHEN (SELECT State FROM PayRuns WHERE Id = OLD.RunId) <> 1 BEGIN SELECT RAISE(ABORT, 'a recoupment of a run that was approved is never deleted'); END;

-- Never edited.
CREATE TRIGGER AgreementVersions_NoUpdate BEFORE UPDATE ON AgreementVersions BEGIN SELECT RAISE(ABORT, 'a row of AgreementVersions is never edited'); END;
CREATE TRIGGER Takings_AsLocked BEFORE INSERT ON Takings WHEN (SELECT State FROM PayRuns WHERE Id = NEW.RunId) <> 1 BEGIN SELECT RAISE(ABORT, 'a run takes entries as it is locked, never later'); END;
CREATE TRIGGER Takings_NoUpdate BEFORE UPDATE ON Takings BEGIN SELECT RAISE(ABORT, 'a row of Takings is never edited'); END;
CREATE TRIGGER TakenSums_NoUpdate BEFORE UPDATE ON TakenSums BEGIN SELECT RAISE(ABORT, 'a row of TakenSums is never edited'); END;
CREATE TRIGGER Recoupments_NoUpdate BEFORE UPDATE ON Recoupments BEGIN SELECT RAISE(ABORT, 'a row of Recoupments is never edited'); END;
CREATE TRIGGER Audit_NoUpdate BEFORE UPDATE ON Audit WHEN OLD.Hash <> '' OR NEW.Id <> OLD.Id OR NEW.At <> OLD.At OR NEW.By <> OLD.By OR NEW.Action <> OLD.Action OR NEW.Subject <> OLD.Subject BEGIN SELECT RAISE(ABORT, 'a row of Audit is never edited'); END;
CREATE TRIGGER Audit_Linked BEFORE INSERT ON Audit WHEN length(NEW.Hash) <> 64 OR NEW.Id <> (SELECT COALESCE(MAX(Id), 0) + 1 FROM Audit) BEGIN SELECT RAISE(ABORT, 'a row of Audit is linked to the one before it'); END;
CREATE TRIGGER AuditThings_NoUpdate BEFORE UPDATE ON AuditThings BEGIN SELECT RAISE(ABORT, 'a row of AuditThings is never edited'); END;
CREATE TRIGGER Acceptances_NoUpdate BEFORE UPDATE ON Acceptances BEGIN SELECT RAISE(ABORT, 'an acceptance is never edited'); END;
CREATE TRIGGER SelfBills_NoUpdate BEFORE UPDATE ON SelfBills BEGIN SELECT RAISE(ABORT, 'an invoice that was issued is never edited'); END;
CREATE TRIGGER StoreCredits_NoUpdate BEFORE UPDATE ON StoreCredits BEGIN SELECT RAISE(ABORT, 'store credit that was given is never edited'); END;
CREATE TRIGGER PaymentFiles_NoUpdate BEFORE UPDATE OF Id, RunId, MessageId, Protected, Payments, Sum, Currency ON PaymentFiles BEGIN SELECT RAISE(ABORT, 'a payment file is never edited'); END;
CREATE TRIGGER Remittances_NoUpdate BEFORE UPDATE OF Id, RunId, Payee, Currency, Opening, Earned, Adjustments, Recouped, Withheld, TransferFee, Paid, Carried, Reason, Through ON Remittances BEGIN SELECT RAISE(ABORT, 'the figures of a locked run never change'); END;
CREATE TRIGGER Remittances_IssuedOnce BEFORE UPDATE OF EndToEnd, FileId ON Remittances WHEN OLD.EndToEnd IS NOT NULL BEGIN SELECT RAISE(ABORT, 'a payment that was issued is never issued again'); END;
CREATE TRIGGER Adjustments_TakenOnce BEFORE UPDATE ON Adjustments WHEN OLD.RunId IS NOT NULL AND (NEW.RunId IS NOT NULL OR (SELECT State FROM PayRuns WHERE Id = OLD.RunId) <> 1) BEGIN SELECT RAISE(ABORT, 'an adjustment that a run has taken is never edited'); END;

-- Where money goes is sealed for its row, and either confirmed or refused.
CREATE TRIGGER PayoutDetails_NoDelete BEFORE DELETE ON PayoutDetails BEGIN SELECT RAISE(ABORT, 'payout details are never deleted'); END;
CREATE TRIGGER PayoutDetails_NoUpdate BEFORE UPDATE OF Id, Payee, Method, Protected, Shown, ProposedBy, ProposedAt ON PayoutDetails WHEN OLD.IsBound BEGIN SELECT RAISE(ABORT, 'payout details are never edited, only followed by others'); END;
CREATE TRIGGER PayoutDetails_OneWord BEFORE UPDATE OF ConfirmedBy, RefusedBy, UsableFrom ON PayoutDetails WHEN OLD.ConfirmedBy IS NOT NULL OR OLD.RefusedBy IS NOT NULL OR (NEW.ConfirmedBy IS NOT NULL AND NEW.RefusedBy IS NOT NULL) BEGIN SELECT RAISE(ABORT, 'payout details are confirmed or refused, once'); END;
CREATE TRIGGER WriteOffs_OneWord BEFORE UPDATE ON WriteOffs WHEN OLD.ConfirmedBy IS NOT NULL OR OLD.RefusedBy IS NOT NULL OR NEW.Payee <> OLD.Payee OR NEW.Amount <> OLD.Amount OR NEW.Currency <> OLD.Currency BEGIN SELECT RAISE(ABORT, 'a write-off is confirmed or refused as it was proposed, once'); END;
CREATE TRIGGER PaymentDoubts_NoDelete BEFORE DELETE ON PaymentDoubts BEGIN SELECT RAISE(ABORT, 'a doubt about a payment is settled, never deleted'); END;

-- Never replaced: what takes a row's place by its key removes it without asking the guards against deletion.
CREATE TRIGGER AgreementVersions_NoReplace BEFORE INSERT ON AgreementVersions WHEN EXISTS (SELECT 1 FROM AgreementVersions WHERE Id = NEW.Id) BEGIN SELECT RAISE(ABORT, 'a published version is never replaced'); END;
CREATE TRIGGER Audit_NoReplace BEFORE INSERT ON Audit WHEN EXISTS (SELECT 1 FROM Audit WHERE Id = NEW.Id) BEGIN SELECT RAISE(ABORT, 'a row of Audit is never replaced'); END;
CREATE TRIGGER AuditThings_NoReplace BEFORE INSERT ON AuditThings WHEN EXISTS (SELECT 1 FROM AuditThings WHERE AuditId = NEW.AuditId AND Thing = NEW.Thing) BEGIN SELECT RAISE(ABORT, 'a row of AuditThings is never replaced'); END;
CREATE TRIGGER Acceptances_NoReplace BEFORE INSERT ON Acceptances WHEN EXISTS (SELECT 1 FROM Acceptances WHERE Id = NEW.Id OR (VersionId = NEW.VersionId AND Payee = NEW.Payee)) BEGIN SELECT RAISE(ABORT, 'an acceptance is never replaced'); END;
CREATE TRIGGER SelfBills_NoReplace BEFORE INSERT ON SelfBills WHEN EXISTS (SELECT 1 FROM SelfBills WHERE Payee = NEW.Payee AND (RunId = NEW.RunId OR Number = NEW.Number)) BEGIN SELECT RAISE(ABORT, 'an invoice that was issued is never replaced'); END;
CREATE TRIGGER StoreCredits_NoReplace BEFORE INSERT ON StoreCredits WHEN EXISTS (SELECT 1 FROM StoreCredits WHERE Id = NEW.Id) BEGIN SELECT RAISE(ABORT, 'store credit that was given is never replaced'); END;
CREATE TRIGGER PaymentFiles_NoReplace BEFORE INSERT ON PaymentFiles WHEN EXISTS (SELECT 1 FROM PaymentFiles WHERE Id = NEW.Id OR MessageId = NEW.MessageId) BEGIN SELECT RAISE(ABORT, 'a payment file is never replaced'); END;
CREATE TRIGGER PayRuns_NoReplace BEFORE INSERT ON PayRuns WHEN EXISTS (SELECT 1 FROM PayRuns WHERE Id = NEW.Id OR Reference = NEW.Reference) BEGIN SELECT RAISE(ABORT, 'a run is never replaced'); END;
CREATE TRIGGER Adjustments_NoReplace BEFORE INSERT ON Adjustments WHEN EXISTS (SELECT 1 FROM Adjustments WHERE Id = NEW.Id OR Reference = NEW.Reference) BEGIN SELECT RAISE(ABORT, 'an adjustment is never replaced'); END;
CREATE TRIGGER Remittances_NoReplace BEFORE INSERT ON Remittances WHEN EXISTS (SELECT 1 FROM Remittances WHERE Id = NEW.Id OR (RunId = NEW.RunId AND Payee = NEW.Payee) OR (EndToEnd = NEW.EndToEnd AND NOT (RunId = NEW.RunId AND COALESCE(Through, Payee) = COALESCE(NEW.Through, NEW.Payee)))) BEGIN SELECT RAISE(ABORT, 'a remittance is never replaced'); END;
CREATE TRIGGER Takings_NoReplace BEFORE INSERT ON Takings WHEN EXISTS (SELECT 1 FROM Takings WHERE Id = NEW.Id OR (RunId = NEW.RunId AND Payee = NEW.Payee)) BEGIN SELECT RAISE(ABORT, 'what a run took is never replaced'); END;
CREATE TRIGGER TakenSums_NoReplace BEFORE INSERT ON TakenSums WHEN EXISTS (SELECT 1 FROM TakenSums WHERE RunId = NEW.RunId AND Payee = NEW.Payee AND Currency = NEW.Currency AND ClearsOn = NEW.ClearsOn) BEGIN SELECT RAISE(ABORT, 'the sums of what a run took are never replaced'); END;
CREATE TRIGGER Recoupments_NoReplace BEFORE INSERT ON Recoupments WHEN EXISTS (SELECT 1 FROM Recoupments WHERE Id = NEW.Id) BEGIN SELECT RAISE(ABORT, 'a recoupment is never replaced'); END;
CREATE TRIGGER PayoutDetails_NoReplace BEFORE INSERT ON PayoutDetails WHEN EXISTS (SELECT 1 FROM PayoutDetails WHERE Id = NEW.Id) BEGIN SELECT RAISE(ABORT, 'payout details are never replaced'); END;
CREATE TRIGGER WriteOffs_NoReplace BEFORE INSERT ON WriteOffs WHEN EXISTS (SELECT 1 FROM WriteOffs WHERE Id = NEW.Id) BEGIN SELECT RAISE(ABORT, 'a write-off is never replaced'); END;
CREATE TRIGGER PaymentDoubts_NoReplace BEFORE INSERT ON PaymentDoubts WHEN EXISTS (SELECT 1 FROM PaymentDoubts WHERE Id = NEW.Id) BEGIN SELECT RAISE(ABORT, 'a doubt about a payment is never replaced'); END;
CREATE TRIGGER Remittances_NoTakeover BEFORE UPDATE OF EndToEnd ON Remittances WHEN EXISTS (SELECT 1 FROM Remittances WHERE EndToEnd = NEW.EndToEnd AND Id <> OLD.Id AND NOT (RunId = OLD.RunId AND COALESCE(Through, Payee) = COALESCE(OLD.Through, OLD.Payee))) BEGIN SELECT RAISE(ABORT, 'a payment that was issued is never issued again'); END;
CREATE TRIGGER Adjustments_NoTakeover BEFORE UPDATE OF Id, Reference ON Adjustments WHEN NEW.Id <> OLD.Id OR NEW.Reference <> OLD.Reference BEGIN SELECT RAISE(ABORT, 'an adjustment keeps what it is known by'); END;
CREATE TRIGGER WriteOffs_NoDelete BEFORE DELETE ON WriteOffs BEGIN SELECT RAISE(ABORT, 'a write-off is never deleted'); END;

-- A run goes forward. An approval is taken back only where a payment was set aside since; nothing that was paid or issued goes back.
CREATE TRIGGER PayRuns_NoUpdate BEFORE UPDATE OF Id, Reference, AsOf ON PayRuns WHEN NEW.Id <> OLD.Id OR NEW.Reference <> OLD.Reference OR NEW.AsOf <> OLD.AsOf BEGIN SELECT RAISE(ABORT, 'a run keeps what it is known by'); END;
CREATE TRIGGER PayRuns_Forward BEFORE UPDATE OF State ON PayRuns WHEN NEW.State < OLD.State AND (OLD.State > 2 OR (OLD.State = 2 AND NOT (NEW.State = 1 AND EXISTS (SELECT 1 FROM Remittances WHERE RunId = OLD.Id AND State = 5)))) BEGIN SELECT RAISE(ABORT, 'a run that was approved does not go back'); END;
CREATE TRIGGER PayRuns_ApprovedByOne BEFORE UPDATE OF State, ApprovedBy, PreparedBy, LockedBy ON PayRuns WHEN NEW.State >= 2 AND (NEW.ApprovedBy IS NULL OR ((NEW.ApprovedBy = NEW.PreparedBy OR NEW.ApprovedBy = NEW.LockedBy) AND OLD.State < 2 AND NOT (SELECT WorksAlone FROM Book)) OR (OLD.State >= 2 AND (NEW.ApprovedBy <> OLD.ApprovedBy OR NEW.PreparedBy <> OLD.PreparedBy OR NEW.LockedBy <> OLD.LockedBy))) BEGIN SELECT RAISE(ABORT, 'a run is approved by somebody who did not prepare it'); END;

-- Until a run takes it, an entry may change the day on which it clears; nothing else of it. None gets into a run that is locked already.
CREATE TRIGGER Entries_NoUpdate BEFORE UPDATE OF Id, OrderId, LineNumber, Payee, Agreement, Part, RefundId, Amount, Currency, PostedOn, Period ON Entries BEGIN SELECT RAISE(ABORT, 'an entry is never edited, only followed by another'); END;
CREATE TRIGGER Entries_ClearsUntilTaken BEFORE UPDATE OF ClearsOn, OpenSince ON Entries WHEN EXISTS (SELECT 1 FROM Takings WHERE Payee = OLD.Payee AND Id > OLD.OpenSince AND AsOf >= OLD.ClearsOn) BEGIN SELECT RAISE(ABORT, 'an entry that a run has taken is never edited'); END;
CREATE TRIGGER Entries_OpenWhenMoved BEFORE UPDATE OF ClearsOn, OpenSince ON Entries WHEN NEW.OpenSince < (SELECT COALESCE(MAX(Id), 0) FROM Takings) BEGIN SELECT RAISE(ABORT, 'an entry gets into no run that is locked'); END;
-- A new entry is held to all of it by one guard, and what it refuses has changed nothing: so SQLite keeps no pages to undo it by, half of what an entry cost.
CREATE TRIGGER Entries_WhenMade BEFORE INSERT ON Entries BEGIN SELECT CASE WHEN EXISTS (SELECT 1 FROM Entries WHERE Id = NEW.Id) THEN RAISE(FAIL, 'an entry is never replaced, only followed by another') WHEN NEW.OpenSince < (SELECT COALESCE(MAX(Id), 0) FROM Takings) THEN RAISE(FAIL, 'an entry gets into no run that is locked') WHEN EXISTS (SELECT 1 FROM MonthCloses WHERE Period = NEW.Period AND ConfirmedBy IS NOT NULL AND OpenedConfirmedBy IS NULL AND NOT IsWithdrawn) THEN RAISE(FAIL, 'nothing is posted in a closed month') END; END;

-- SQLite turns a whole number that runs over into one that is not exact.
CREATE TRIGGER OpenSums_WholeWhenMade BEFORE INSERT ON OpenSums WHEN typeof(NEW.Amount) <> 'integer' BEGIN SELECT RAISE(ABORT, 'a sum is beyond the largest amount there is'); END;
CREATE TRIGGER OpenSums_Whole BEFORE UPDATE OF Amount ON OpenSums WHEN typeof(NEW.Amount) <> 'integer' BEGIN SELECT RAISE(ABORT, 'a sum is beyond the largest amount there is'); END;
CREATE TRIGGER EntrySums_WholeWhenMade BEFORE INSERT ON EntrySums WHEN typeof(NEW.Amount) <> 'integer' BEGIN SELECT RAISE(ABORT, 'a sum is beyond the largest amount there is'); END;
CREATE TRIGGER EntrySums_Whole BEFORE UPDATE OF Amount ON EntrySums WHEN typeof(NEW.Amount) <> 'integer' BEGIN SELECT RAISE(ABORT, 'a sum is beyond the largest amount there is'); END;

-- What is held against lines of processors is found again for each order of which something has changed, and what it comes to is booked.
CREATE TRIGGER Orders_MatchWhenMade AFTER INSERT ON Orders BEGIN INSERT OR IGNORE INTO OrdersToMatch ("Order") VALUES (NEW.OrderId); END;
CREATE TRIGGER Orders_MatchWhenGone AFTER DELETE ON Orders BEGIN INSERT OR IGNORE INTO OrdersToMatch ("Order") VALUES (OLD.OrderId); END;
CREATE TRIGGER Orders_MatchWhenChanged AFTER UPDATE OF Processor, PaidAt, IsTest, Currency, Charged, ProcessingFee, ChannelFee, Rebate, IsRefunded, FactsHash ON Orders WHEN NEW.Processor IS NOT OLD.Processor OR NEW.PaidAt IS NOT OLD.PaidAt OR NEW.IsTest <> OLD.IsTest OR NEW.Currency <> OLD.Currency OR NEW.Charged <> OLD.Charged OR NEW.ProcessingFee <> OLD.ProcessingFee OR NEW.ChannelFee <> OLD.ChannelFee OR NEW.Rebate <> OLD.Rebate OR NEW.IsRefunded <> OLD.IsRefunded OR NEW.FactsHash <> OLD.FactsHash BEGIN INSERT OR IGNORE INTO OrdersToMatch ("Order") VALUES (NEW.OrderId); END;
CREATE TRIGGER Refunds_MatchWhenMade AFTER INSERT ON Refunds BEGIN INSERT OR IGNORE INTO OrdersToMatch ("Order") SELECT OrderId FROM Orders WHERE Id = NEW.OrderId; END;
CREATE TRIGGER Refunds_MatchWhenChanged AFTER UPDATE ON Refunds BEGIN INSERT OR IGNORE INTO OrdersToMatch ("Order") SELECT OrderId FROM Orders WHERE Id = NEW.OrderId; END;
CREATE TRIGGER Refunds_MatchWhenGone AFTER DELETE ON Refunds BEGIN INSERT OR IGNORE INTO OrdersToMatch ("Order") SELECT OrderId FROM Orders WHERE Id = OLD.OrderId; END;

-- So is what is held against the bank's lines, and partners'.
CREATE TRIGGER Remittances_MatchWhenChanged AFTER UPDATE OF State, EndToEnd, Reference, PaidOn, FileId ON Remittances BEGIN INSERT OR IGNORE INTO BenchToMatch SELECT 0, COALESCE(NEW.EndToEnd, NEW.Reference) WHERE COALESCE(NEW.EndToEnd, NEW.Reference, '') <> ''; INSERT OR IGNORE INTO BenchToMatch SELECT 0, COALESCE(OLD.EndToEnd, OLD.Reference) WHERE COALESCE(OLD.EndToEnd, OLD.Reference, '') <> ''; INSERT OR IGNORE INTO BenchToMatch SELECT 2, CAST(OLD.FileId AS TEXT) WHERE OLD.FileId IS NOT NULL AND OLD.FileId IS NOT NEW.FileId; END;
CREATE TRIGGER PaymentDoubts_MatchWhenMade AFTER INSERT ON PaymentDoubts BEGIN INSERT OR IGNORE INTO BenchToMatch SELECT 0, COALESCE(EndToEnd, Reference) FROM Remittances WHERE Id = NEW.RemittanceId AND COALESCE(EndToEnd, Reference, '') <> ''; END;
CREATE TRIGGER PaymentDoubts_MatchWhenChanged AFTER UPDATE ON PaymentDoubts BEGIN INSERT OR IGNORE INTO BenchToMatch SELECT 0, COALESCE(EndToEnd, Reference) FROM Remittances WHERE Id = NEW.RemittanceId AND COALESCE(EndToEnd, Reference, '') <> ''; END;
CREATE TRIGGER Settlings_MatchWhenMade AFTER INSERT ON Settlings WHEN NEW.Bench > 0 BEGIN INSERT OR IGNORE INTO BenchToMatch SELECT CASE NEW.Bench WHEN 1 THEN 1 ELSE 4 END, CAST(NEW.LineId AS TEXT) WHERE NEW.LineId IS NOT NULL; END;
CREATE TRIGGER Settlings_MatchWhenUndone AFTER UPDATE ON Settlings WHEN NEW.Bench > 0 BEGIN INSERT OR IGNORE INTO BenchToMatch SELECT CASE NEW.Bench WHEN 1 THEN 1 ELSE 4 END, CAST(NEW.LineId AS TEXT) WHERE NEW.LineId IS NOT NULL; END;

-- What went through processors' accounts is kept in sums, and what is not settled by its day. A row that replaces another fires nothing as that one goes, so it is taken out before.
CREATE TRIGGER Bookings_Sum AFTER INSERT ON Bookings WHEN NEW.Processor <> '' BEGIN INSERT INTO ProcessorSums SELECT 0, NEW.Processor, NEW.Currency, 0 WHERE NOT EXISTS (SELECT 1 FROM ProcessorSums WHERE Kind = 0 AND Of = NEW.Processor AND Currency = NEW.Currency); UPDATE ProcessorSums SET Amount = Amount + NEW.Goods + NEW.Shipping + NEW.Tax - NEW.ProcessingFee WHERE Kind = 0 AND Of = NEW.Processor AND Currency = NEW.Currency; END;
CREATE TRIGGER OutsideLines_SumTakenOut AFTER INSERT ON OutsideLines WHEN NEW.Bench = 0 AND NEW.Kind >= 3 BEGIN INSERT INTO ProcessorSums SELECT 1, NEW.Source, NEW.Currency, 0 WHERE NOT EXISTS (SELECT 1 FROM ProcessorSums WHERE Kind = 1 AND Of = NEW.Source AND Currency = NEW.Currency); UPDATE ProcessorSums SET Amount = Amount + NEW.Fee - NEW.Gross WHERE Kind = 1 AND Of = NEW.Source AND Currency = NEW.Currency; END;
CREATE TRIGGER OutsideLines_SumSettled AFTER INSERT ON OutsideLines WHEN NEW.Bench = 0 AND NEW.Kind < 3 BEGIN INSERT INTO ProcessorSums SELECT 2, NEW.Source, NEW.Currency, 0 WHERE NOT EXISTS (SELECT 1 FROM ProcessorSums WHERE Kind = 2 AND Of = NEW.Source AND Currency = NEW.Currency); UPDATE ProcessorSums SET Amount = Amount + NEW.Gross - NEW.Fee WHERE Kind = 2 AND Of = NEW.Source AND Currency = NEW.Currency; END;
CREATE TRIGGER Awaited_SumWhenReplaced BEFORE INSERT ON Awaited WHEN NEW.Bench = 0 AND EXISTS (SELECT 1 FROM Awaited WHERE Bench = 0 AND Ours = NEW.Ours) BEGIN DELETE FROM Awaited WHERE Bench = 0 AND Ours = NEW.Ours; END;
CREATE TRIGGER Awaited_SumWhenMade AFTER INSERT ON Awaited WHEN NEW.Bench = 0 BEGIN INSERT INTO NotSettledDays SELECT NEW.Source, NEW."On", NEW.Currency, 0, 0 WHERE NOT EXISTS (SELECT 1 FROM NotSettledDays WHERE Processor = NEW.Source AND "On" = NEW."On" AND Currency = NEW.Currency); UPDATE NotSettledDays SET Rows = Rows + 1, Amount = Amount + (NEW.Gross - NEW.Fee) WHERE Processor = NEW.Source AND "On" = NEW."On" AND Currency = NEW.Currency; END;
CREATE TRIGGER Awaited_SumWhenGone AFTER DELETE ON Awaited WHEN OLD.Bench = 0 BEGIN UPDATE NotSettledDays SET Rows = Rows - 1, Amount = Amount - (OLD.Gross - OLD.Fee) WHERE Processor = OLD.Source AND "On" = OLD."On" AND Currency = OLD.Currency; DELETE FROM NotSettledDays WHERE Processor = OLD.Source AND "On" = OLD."On" AND Currency = OLD.Currency AND Rows = 0; END;
CREATE TRIGGER Awaited_NoUpdate BEFORE UPDATE ON Awaited WHEN OLD.Bench = 0 BEGIN SELECT RAISE(ABORT, 'what is awaited of a processor is replaced, never edited'); END;

-- What others wrote stays as they wrote it; how it was settled stays on record.
CREATE TRIGGER OutsideLines_NoDelete BEFORE DELETE ON OutsideLines BEGIN SELECT RAISE(ABORT, 'what others wrote is never deleted'); END;
CREATE TRIGGER OutsideLines_NoReplace BEFORE INSERT ON OutsideLines WHEN EXISTS (SELECT 1 FROM OutsideLines WHERE Id = NEW.Id OR (Bench = NEW.Bench AND Source = NEW.Source AND LineId = NEW.LineId)) BEGIN SELECT RAISE(ABORT, 'what others wrote is never replaced'); END;
CREATE TRIGGER OutsideLines_NoUpdate BEFORE UPDATE OF Id, Bench, Source, LineId, Kind, "On", JournalOn, "Order", "From", Reference, Name, Note, Currency, Gross, Fee, DueOn, ImportId ON OutsideLines BEGIN SELECT RAISE(ABORT, 'what others wrote is never edited'); END;
CREATE TRIGGER OutsideFiles_NoDelete BEFORE DELETE ON OutsideFiles BEGIN SELECT RAISE(ABORT, 'that a file came is never deleted'); END;
CREATE TRIGGER OutsideFiles_NoUpdate BEFORE UPDATE ON OutsideFiles BEGIN SELECT RAISE(ABORT, 'that a file came is never edited'); END;
CREATE TRIGGER OutsideFiles_NoReplace BEFORE INSERT ON OutsideFiles WHEN EXISTS (SELECT 1 FROM OutsideFiles WHERE ImportId = NEW.ImportId) BEGIN SELECT RAISE(ABORT, 'that a file came is never replaced'); END;
CREATE TRIGGER Settlings_NoDelete BEFORE DELETE ON Settlings BEGIN SELECT RAISE(ABORT, 'how something was settled is never deleted, only undone'); END;
CREATE TRIGGER Settlings_NoReplace BEFORE INSERT ON Settlings WHEN EXISTS (SELECT 1 FROM Settlings WHERE Id = NEW.Id) BEGIN SELECT RAISE(ABORT, 'how something was settled is never replaced'); END;
CREATE TRIGGER Settlings_UndoneOnce BEFORE UPDATE ON Settlings WHEN OLD.UndoneBy IS NOT NULL OR NEW.UndoneBy IS NULL OR NEW.Id <> OLD.Id OR NEW.LineId IS NOT OLD.LineId OR NEW.Ours IS NOT OLD.Ours OR NEW.Way <> OLD.Way OR NEW.By <> OLD.By OR NEW.At <> OLD.At OR NEW.Reason <> OLD.Reason BEGIN SELECT RAISE(ABORT, 'how something was settled is undone once, and never edited'); END;

-- The journal goes on; a closed month stays as it was closed. It is opened again by two persons.
CREATE TRIGGER Bookings_NoDelete BEFORE DELETE ON Bookings BEGIN SELECT RAISE(ABORT, 'what was booked is never deleted'); END;
CREATE TRIGGER Bookings_NoUpdate BEFORE UPDATE ON Bookings BEGIN SELECT RAISE(ABORT, 'what was booked is never edited'); END;
CREATE TRIGGER Bookings_NoReplace BEFORE INSERT ON Bookings WHEN EXISTS (SELECT 1 FROM Bookings WHERE Id = NEW.Id) BEGIN SELECT RAISE(ABORT, 'what was booked is never replaced'); END;
CREATE TRIGGER Bookings_OpenMonth BEFORE INSERT ON Bookings WHEN EXISTS (SELECT 1 FROM MonthCloses WHERE Period = NEW.Period AND ConfirmedBy IS NOT NULL AND OpenedConfirmedBy IS NULL) BEGIN SELECT RAISE(ABORT, 'nothing is posted in a closed month'); END;
CREATE TRIGGER Adjustments_OpenMonth BEFORE INSERT ON Adjustments WHEN EXISTS (SELECT 1 FROM MonthCloses WHERE Period = CAST(strftime('%Y%m', NEW."On") AS INTEGER) AND ConfirmedBy IS NOT NULL AND OpenedConfirmedBy IS NULL) BEGIN SELECT RAISE(ABORT, 'nothing is posted in a closed month'); END;
CREATE TRIGGER Adjustments_ClosedMonth BEFORE UPDATE OF "On", Amount, Currency, Payee ON Adjustments WHEN EXISTS (SELECT 1 FROM MonthCloses WHERE (Period = CAST(strftime('%Y%m', OLD."On") AS INTEGER) OR Period = CAST(strftime('%Y%m', NEW."On") AS INTEGER)) AND ConfirmedBy IS NOT NULL AND OpenedConfirmedBy IS NULL) BEGIN SELECT RAISE(ABORT, 'nothing is changed in a closed month'); END;
CREATE TRIGGER Adjustments_ClosedMonthKept BEFORE DELETE ON Adjustments WHEN EXISTS (SELECT 1 FROM MonthCloses WHERE Period = CAST(strftime('%Y%m', OLD."On") AS INTEGER) AND ConfirmedBy IS NOT NULL AND OpenedConfirmedBy IS NULL) BEGIN SELECT RAISE(ABORT, 'nothing is changed in a closed month'); END;
CREATE TRIGGER PayRuns_OpenMonth BEFORE UPDATE OF State ON PayRuns WHEN NEW.State = 1 AND EXISTS (SELECT 1 FROM MonthCloses WHERE Period = CAST(strftime('%Y%m', NEW.AsOf) AS INTEGER) AND ConfirmedBy IS NOT NULL AND OpenedConfirmedBy IS NULL) BEGIN SELECT RAISE(ABORT, 'no run is locked or unlocked in a closed month'); END;
CREATE TRIGGER PayRuns_ClosedMonth BEFORE UPDATE OF State ON PayRuns WHEN OLD.State > 0 AND NEW.State = 0 AND EXISTS (SELECT 1 FROM MonthCloses WHERE Period = CAST(strftime('%Y%m', NEW.AsOf) AS INTEGER) AND ConfirmedBy IS NOT NULL AND OpenedConfirmedBy IS NULL) BEGIN SELECT RAISE(ABORT, 'no run is locked or unlocked in a closed month'); END;
CREATE TRIGGER Remittances_OpenMonth BEFORE UPDATE OF PaidOn, CameBackOn ON Remittances WHEN (NEW.PaidOn IS NOT OLD.PaidOn OR NEW.CameBackOn IS NOT OLD.CameBackOn) AND EXISTS (SELECT 1 FROM MonthCloses WHERE Period IN (CAST(strftime('%Y%m', CASE WHEN NEW.PaidOn IS NOT OLD.PaidOn THEN NEW.PaidOn END) AS INTEGER), CAST(strftime('%Y%m', CASE WHEN NEW.PaidOn IS NOT OLD.PaidOn THEN OLD.PaidOn END) AS INTEGER), CAST(strftime('%Y%m', CASE WHEN NEW.CameBackOn IS NOT OLD.CameBackOn THEN NEW.CameBackOn END) AS INTEGER)) AND ConfirmedBy IS NOT NULL AND OpenedConfirmedBy IS NULL) BEGIN SELECT RAISE(ABORT, 'nothing is paid in a closed month'); END;
CREATE TRIGGER RowSeals_NoDelete BEFORE DELETE ON RowSeals BEGIN SELECT RAISE(ABORT, 'a seal is never deleted'); END;
CREATE TRIGGER RowSeals_NoUpdate BEFORE UPDATE ON RowSeals BEGIN SELECT RAISE(ABORT, 'a seal is never edited'); END;
CREATE TRIGGER RowSeals_NoReplace BEFORE INSERT ON RowSeals WHEN EXISTS (SELECT 1 FROM RowSeals WHERE Id = NEW.Id OR (Kind = NEW.Kind AND Period = NEW.Period AND FirstId = NEW.FirstId)) BEGIN SELECT RAISE(ABORT, 'a seal is never replaced'); END;
CREATE TRIGGER MonthCloses_NoDelete BEFORE DELETE ON MonthCloses BEGIN SELECT RAISE(ABORT, 'that a month was closed is never deleted'); END;
CREATE TRIGGER MonthCloses_NoReplace BEFORE INSERT ON MonthCloses WHEN EXISTS (SELECT 1 FROM MonthCloses WHERE Id = NEW.Id OR (Period = NEW.Period AND OpenedConfirmedBy IS NULL AND NOT IsWithdrawn)) BEGIN SELECT RAISE(ABORT, 'a month is closed once'); END;
CREATE TRIGGER MonthCloses_TwoPersons BEFORE UPDATE ON MonthCloses WHEN NEW.Id <> OLD.Id OR NEW.Period <> OLD.Period OR NEW.ClosedBy <> OLD.ClosedBy OR (OLD.ConfirmedBy IS NOT NULL AND (NEW.ConfirmedBy IS NOT OLD.ConfirmedBy OR NEW.Hash <> OLD.Hash OR NEW.HashBefore <> OLD.HashBefore OR NEW.Proof <> OLD.Proof OR NEW.IsWithdrawn)) OR (OLD.OpenedConfirmedBy IS NOT NULL) OR (NEW.ConfirmedBy = NEW.ClosedBy AND NOT (SELECT WorksAlone FROM Book)) OR (NEW.OpenedConfirmedBy = NEW.OpenedBy AND NOT (SELECT WorksAlone FROM Book)) OR (NEW.OpenedConfirmedBy IS NOT NULL AND (NEW.OpenedBy IS NULL OR NEW.OpenedBecause = '')) BEGIN SELECT RAISE(ABORT, 'a month is closed and opened by two persons, with a reason'); END;
