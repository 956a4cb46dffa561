-- What the database holds to, whatever the code does. Made anew whenever this file has changed; a test lists and tries them.

-- Ids of orders are found by any three letters of them.
CREATE TRIGGER Orders_TextWhenMade AFTER INSERT ON Orders BEGIN INSERT INTO OrderTexts (rowid, Text) VALUES (NEW.Id, NEW.OrderId); END;
CREATE TRIGGER Orders_TextWhenGone AFTER DELETE ON Orders BEGIN DELETE FROM OrderTexts WHERE rowid = OLD.Id; END;

-- Never deleted.
CREATE TRIGGER Entries_NoDelete BEFORE DELETE ON Entries BEGIN SELECT RAISE(ABORT, 'an entry is never deleted, only followed by another'); END;
CREATE TRIGGER AgreementVersions_NoDelete BEFORE DELETE ON AgreementVersions BEGIN SELECT RAISE(ABORT, 'a published version is never deleted'); END;
CREATE TRIGGER Audit_NoDelete BEFORE DELETE ON Audit BEGIN SELECT RAISE(ABORT, 'the audit log is never shortened'); END;
CREATE TRIGGER Acceptances_NoDelete BEFORE DELETE ON Acceptances BEGIN SELECT RAISE(ABORT, 'an acceptance is never deleted'); END;
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
CREATE TRIGGER Audit_NoUpdate BEFORE UPDATE ON Audit BEGIN SELECT RAISE(ABORT, 'a row of Audit is never edited'); END;
CREATE TRIGGER Acceptances_NoUpdate BEFORE UPDATE ON Acceptances BEGIN SELECT RAISE(ABORT, 'an acceptance is never edited'); END;
CREATE TRIGGER StoreCredits_NoUpdate BEFORE UPDATE ON StoreCredits BEGIN SELECT RAISE(ABORT, 'store credit that was given is never edited'); END;
CREATE TRIGGER PaymentFiles_NoUpdate BEFORE UPDATE OF Id, RunId, MessageId, Protected, Payments, Sum, Currency ON PaymentFiles BEGIN SELECT RAISE(ABORT, 'a payment file is never edited'); END;
CREATE TRIGGER Remittances_NoUpdate BEFORE UPDATE OF Id, RunId, Payee, Currency, Opening, Earned, Adjustments, Recouped, Withheld, TransferFee, Paid, Carried, Reason ON Remittances BEGIN SELECT RAISE(ABORT, 'the figures of a locked run never change'); END;
CREATE TRIGGER Remittances_IssuedOnce BEFORE UPDATE OF EndToEnd, FileId ON Remittances WHEN OLD.EndToEnd IS NOT NULL BEGIN SELECT RAISE(ABORT, 'a payment that was issued is never issued again'); END;
CREATE TRIGGER Adjustments_TakenOnce BEFORE UPDATE ON Adjustments WHEN OLD.RunId IS NOT NULL AND (NEW.RunId IS NOT NULL OR (SELECT State FROM PayRuns WHERE Id = OLD.RunId) <> 1) BEGIN SELECT RAISE(ABORT, 'an adjustment that a run has taken is never edited'); END;

-- Until a run takes it, an entry may change the day on which it clears; nothing else of it. None gets into a run that is locked already.
CREATE TRIGGER Entries_NoUpdate BEFORE UPDATE OF Id, OrderId, LineNumber, Payee, Agreement, Part, RefundId, Amount, Currency, PostedOn, Period ON Entries BEGIN SELECT RAISE(ABORT, 'an entry is never edited, only followed by another'); END;
CREATE TRIGGER Entries_ClearsUntilTaken BEFORE UPDATE OF ClearsOn, OpenSince ON Entries WHEN EXISTS (SELECT 1 FROM Takings WHERE Payee = OLD.Payee AND Id > OLD.OpenSince AND AsOf >= OLD.ClearsOn) BEGIN SELECT RAISE(ABORT, 'an entry that a run has taken is never edited'); END;
CREATE TRIGGER Entries_OpenWhenMoved BEFORE UPDATE OF ClearsOn, OpenSince ON Entries WHEN NEW.OpenSince < (SELECT COALESCE(MAX(Id), 0) FROM Takings) BEGIN SELECT RAISE(ABORT, 'an entry gets into no run that is locked'); END;
CREATE TRIGGER Entries_OpenWhenMade BEFORE INSERT ON Entries WHEN NEW.OpenSince < (SELECT COALESCE(MAX(Id), 0) FROM Takings) BEGIN SELECT RAISE(ABORT, 'an entry gets into no run that is locked'); END;

-- SQLite turns a whole number that runs over into one that is not exact.
CREATE TRIGGER OpenSums_WholeWhenMade BEFORE INSERT ON OpenSums WHEN typeof(NEW.Amount) <> 'integer' BEGIN SELECT RAISE(ABORT, 'a sum is beyond the largest amount there is'); END;
CREATE TRIGGER OpenSums_Whole BEFORE UPDATE OF Amount ON OpenSums WHEN typeof(NEW.Amount) <> 'integer' BEGIN SELECT RAISE(ABORT, 'a sum is beyond the largest amount there is'); END;
CREATE TRIGGER EntrySums_WholeWhenMade BEFORE INSERT ON EntrySums WHEN typeof(NEW.Amount) <> 'integer' BEGIN SELECT RAISE(ABORT, 'a sum is beyond the largest amount there is'); END;
CREATE TRIGGER EntrySums_Whole BEFORE UPDATE OF Amount ON EntrySums WHEN typeof(NEW.Amount) <> 'integer' BEGIN SELECT RAISE(ABORT, 'a sum is beyond the largest amount there is'); END;
