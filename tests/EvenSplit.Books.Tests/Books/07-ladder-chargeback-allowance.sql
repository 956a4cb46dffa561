BEGIN TRANSACTION;
CREATE TABLE "Acceptances" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Acceptances" PRIMARY KEY AUTOINCREMENT,
    "VersionId" INTEGER NOT NULL,
    "Payee" TEXT NOT NULL,
    "AcceptedOn" TEXT NOT NULL,
    "Note" TEXT NOT NULL,
    "RecordedBy" TEXT NOT NULL,
    "RecordedAt" INTEGER NOT NULL,
    CONSTRAINT "FK_Acceptances_AgreementVersions_VersionId" FOREIGN KEY ("VersionId") REFERENCES "AgreementVersions" ("Id") ON DELETE CASCADE,
    CONSTRAINT "FK_Acceptances_Payees_Payee" FOREIGN KEY ("Payee") REFERENCES "Payees" ("Id") ON DELETE CASCADE
);
CREATE TABLE "AcceptedExceptions" (
    "OrderId" INTEGER NOT NULL,
    "Code" INTEGER NOT NULL,
    "LineId" TEXT NOT NULL,
    "Payee" TEXT NOT NULL,
    "Reason" TEXT NOT NULL,
    "By" TEXT NOT NULL,
    "At" INTEGER NOT NULL,
    CONSTRAINT "PK_AcceptedExceptions" PRIMARY KEY ("OrderId", "Code", "LineId", "Payee")
);
CREATE TABLE "Adjustments" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Adjustments" PRIMARY KEY AUTOINCREMENT,
    "Payee" TEXT NOT NULL,
    "On" TEXT NOT NULL,
    "Amount" INTEGER NOT NULL,
    "Currency" TEXT NOT NULL,
    "Kind" INTEGER NOT NULL,
    "Note" TEXT NOT NULL,
    "RunId" INTEGER NULL,
    "By" TEXT NOT NULL, "Reference" TEXT NOT NULL DEFAULT '',
    CONSTRAINT "FK_Adjustments_Payees_Payee" FOREIGN KEY ("Payee") REFERENCES "Payees" ("Id") ON DELETE CASCADE
);
CREATE TABLE "Advances" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Advances" PRIMARY KEY AUTOINCREMENT,
    "PayeeId" TEXT NOT NULL,
    "On" TEXT NOT NULL,
    "Amount" INTEGER NOT NULL,
    "Note" TEXT NOT NULL, "Reference" TEXT NOT NULL DEFAULT '',
    CONSTRAINT "FK_Advances_Payees_PayeeId" FOREIGN KEY ("PayeeId") REFERENCES "Payees" ("Id") ON DELETE CASCADE
);
CREATE TABLE "AgreementDrafts" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_AgreementDrafts" PRIMARY KEY AUTOINCREMENT,
    "AgreementId" TEXT NULL,
    "Name" TEXT NOT NULL,
    "Document" TEXT NOT NULL,
    "SavedAt" INTEGER NOT NULL,
    "SavedBy" TEXT NOT NULL
);
CREATE TABLE "AgreementVersions" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_AgreementVersions" PRIMARY KEY AUTOINCREMENT,
    "AgreementId" TEXT NOT NULL,
    "From" TEXT NOT NULL,
    "Document" TEXT NOT NULL,
    "PublishedAt" INTEGER NOT NULL,
    "PublishedBy" TEXT NOT NULL, "Text" TEXT NOT NULL DEFAULT '',
    CONSTRAINT "FK_AgreementVersions_Agreements_AgreementId" FOREIGN KEY ("AgreementId") REFERENCES "Agreements" ("Id") ON DELETE CASCADE
);
INSERT INTO "AgreementVersions" VALUES(1,'step','2025-01-01','{"from":"2025-01-01","holdDays":0,"signOff":"auto","discountBorneBy":"shared","tax":"keep","shipping":"keep","rebate":"keep","deductProcessingFee":true,"deductChannelFee":false,"deductCost":false,"afterReferral":false,"lostFees":"shared","terms":[{"scope":{"all":true},"cases":[{"when":{"salesAtLeast":10000,"window":"month"},"rate":{"percent":"0.15","of":"payee"}},{"rate":{"percent":"0.1","of":"payee"}}]}]}',639106628204967178,'root','');
CREATE TABLE "Agreements" (
    "Id" TEXT NOT NULL CONSTRAINT "PK_Agreements" PRIMARY KEY,
    "Name" TEXT NOT NULL,
    "Basis" INTEGER NOT NULL,
    "Currency" TEXT NOT NULL
, "ForNewAffiliates" INTEGER NOT NULL DEFAULT 0);
INSERT INTO "Agreements" VALUES('step','step',0,'EUR',0);
CREATE TABLE "AspNetRoleClaims" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_AspNetRoleClaims" PRIMARY KEY AUTOINCREMENT,
    "RoleId" TEXT NOT NULL,
    "ClaimType" TEXT NULL,
    "ClaimValue" TEXT NULL,
    CONSTRAINT "FK_AspNetRoleClaims_AspNetRoles_RoleId" FOREIGN KEY ("RoleId") REFERENCES "AspNetRoles" ("Id") ON DELETE CASCADE
);
CREATE TABLE "AspNetRoles" (
    "Id" TEXT NOT NULL CONSTRAINT "PK_AspNetRoles" PRIMARY KEY,
    "Name" TEXT NULL,
    "NormalizedName" TEXT NULL,
    "ConcurrencyStamp" TEXT NULL
);
CREATE TABLE "AspNetUserClaims" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_AspNetUserClaims" PRIMARY KEY AUTOINCREMENT,
    "UserId" TEXT NOT NULL,
    "ClaimType" TEXT NULL,
    "ClaimValue" TEXT NULL,
    CONSTRAINT "FK_AspNetUserClaims_AspNetUsers_UserId" FOREIGN KEY ("UserId") REFERENCES "AspNetUsers" ("Id") ON DELETE CASCADE
);
CREATE TABLE "AspNetUserLogins" (
    "LoginProvider" TEXT NOT NULL,
    "ProviderKey" TEXT NOT NULL,
    "ProviderDisplayName" TEXT NULL,
    "UserId" TEXT NOT NULL,
    CONSTRAINT "PK_AspNetUserLogins" PRIMARY KEY ("LoginProvider", "ProviderKey"),
    CONSTRAINT "FK_AspNetUserLogins_AspNetUsers_UserId" FOREIGN KEY ("UserId") REFERENCES "AspNetUsers" ("Id") ON DELETE CASCADE
);
CREATE TABLE "AspNetUserRoles" (
    "UserId" TEXT NOT NULL,
    "RoleId" TEXT NOT NULL,
    CONSTRAINT "PK_AspNetUserRoles" PRIMARY KEY ("UserId", "RoleId"),
    CONSTRAINT "FK_AspNetUserRoles_AspNetRoles_RoleId" FOREIGN KEY ("RoleId") REFERENCES "AspNetRoles" ("Id") ON DELETE CASCADE,
    CONSTRAINT "FK_AspNetUserRoles_AspNetUsers_UserId" FOREIGN KEY ("UserId") REFERENCES "AspNetUsers" ("Id") ON DELETE CASCADE
);
CREATE TABLE "AspNetUserTokens" (
    "UserId" TEXT NOT NULL,
    "LoginProvider" TEXT NOT NULL,
    "Name" TEXT NOT NULL,
    "Value" TEXT NULL,
    CONSTRAINT "PK_AspNetUserTokens" PRIMARY KEY ("UserId", "LoginProvider", "Name"),
    CONSTRAINT "FK_AspNetUserTokens_AspNetUsers_UserId" FOREIGN KEY ("UserId") REFERENCES "AspNetUsers" ("Id") ON DELETE CASCADE
);
CREATE TABLE "AspNetUsers" (
    "Id" TEXT NOT NULL CONSTRAINT "PK_AspNetUsers" PRIMARY KEY,
    "DisplayName" TEXT NOT NULL,
    "UserName" TEXT NULL,
    "NormalizedUserName" TEXT NULL,
    "Email" TEXT NULL,
    "NormalizedEmail" TEXT NULL,
    "EmailConfirmed" INTEGER NOT NULL,
    "PasswordHash" TEXT NULL,
    "SecurityStamp" TEXT NULL,
    "ConcurrencyStamp" TEXT NULL,
    "PhoneNumber" TEXT NULL,
    "PhoneNumberConfirmed" INTEGER NOT NULL,
    "TwoFactorEnabled" INTEGER NOT NULL,
    "LockoutEnd" INTEGER NULL,
    "LockoutEnabled" INTEGER NOT NULL,
    "AccessFailedCount" INTEGER NOT NULL
);
CREATE TABLE "Audit" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Audit" PRIMARY KEY AUTOINCREMENT,
    "At" INTEGER NOT NULL,
    "By" TEXT NOT NULL,
    "Action" TEXT NOT NULL,
    "Subject" TEXT NOT NULL
);
INSERT INTO "Audit" VALUES(1,639106628195357587,'root','open the book','oldbook-07-ladder-chargeback-allowance');
INSERT INTO "Audit" VALUES(2,639106628203536526,'root','add product','A');
INSERT INTO "Audit" VALUES(3,639106628203892381,'root','add product','B');
INSERT INTO "Audit" VALUES(4,639106628205239279,'root','publish','step from 1 Jan 2025');
INSERT INTO "Audit" VALUES(5,639106628206874150,'root','save payee','podcast');
CREATE TABLE "Book" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Book" PRIMARY KEY AUTOINCREMENT,
    "Name" TEXT NOT NULL,
    "Currency" TEXT NOT NULL,
    "TimeZone" TEXT NOT NULL,
    "ClickModel" INTEGER NOT NULL,
    "AllowSelfReferral" INTEGER NOT NULL,
    "DemoToday" TEXT NULL,
    "RulesVersion" INTEGER NOT NULL
, "RefundLimit" INTEGER NOT NULL DEFAULT 100000, "ShopAddress" TEXT NOT NULL DEFAULT '');
INSERT INTO "Book" VALUES(1,'oldbook-07-ladder-chargeback-allowance','EUR','UTC',1,0,'2026-04-01',1,100000,'');
CREATE TABLE "BulkChanges" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_BulkChanges" PRIMARY KEY AUTOINCREMENT,
    "Kind" INTEGER NOT NULL,
    "FileName" TEXT NOT NULL,
    "Content" TEXT NOT NULL,
    "IsWhole" INTEGER NOT NULL,
    "From" TEXT NULL,
    "State" INTEGER NOT NULL,
    "Before" TEXT NULL,
    "By" TEXT NOT NULL,
    "At" INTEGER NOT NULL
);
CREATE TABLE "CauseNotes" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_CauseNotes" PRIMARY KEY AUTOINCREMENT,
    "Cause" TEXT NOT NULL,
    "Text" TEXT NOT NULL,
    "AssignedTo" TEXT NOT NULL,
    "By" TEXT NOT NULL,
    "At" INTEGER NOT NULL
);
CREATE TABLE "ChannelSchedules" (
    "ChannelId" TEXT NOT NULL,
    "From" TEXT NOT NULL,
    "FeeRate" INTEGER NOT NULL,
    "FeeFixed" INTEGER NOT NULL,
    "Currency" TEXT NOT NULL,
    "RebateRate" INTEGER NOT NULL,
    CONSTRAINT "PK_ChannelSchedules" PRIMARY KEY ("ChannelId", "From"),
    CONSTRAINT "FK_ChannelSchedules_Channels_ChannelId" FOREIGN KEY ("ChannelId") REFERENCES "Channels" ("Id") ON DELETE CASCADE
);
CREATE TABLE "Channels" (
    "Id" TEXT NOT NULL CONSTRAINT "PK_Channels" PRIMARY KEY,
    "Name" TEXT NOT NULL,
    "FeeRate" INTEGER NOT NULL,
    "FeeFixed" INTEGER NOT NULL,
    "Currency" TEXT NOT NULL,
    "RebateRate" INTEGER NOT NULL
);
CREATE TABLE "Clicks" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Clicks" PRIMARY KEY AUTOINCREMENT,
    "Payee" TEXT NOT NULL,
    "At" INTEGER NOT NULL,
    "Visitor" TEXT NOT NULL,
    "Order" TEXT NOT NULL,
    "Page" TEXT NOT NULL,
    "Source" TEXT NOT NULL,
    "Period" INTEGER NOT NULL
);
CREATE TABLE "CountedSales" (
    "Product" TEXT NOT NULL,
    "PlacedAt" INTEGER NOT NULL,
    "OrderId" INTEGER NOT NULL,
    "LinePosition" INTEGER NOT NULL,
    "Quantity" INTEGER NOT NULL,
    "Before" INTEGER NOT NULL,
    CONSTRAINT "PK_CountedSales" PRIMARY KEY ("Product", "PlacedAt", "OrderId", "LinePosition")
);
CREATE TABLE "CustomerCodes" (
    "Code" TEXT COLLATE NOCASE NOT NULL CONSTRAINT "PK_CustomerCodes" PRIMARY KEY,
    "CustomerKey" TEXT NOT NULL,
    "Name" TEXT NOT NULL
);
CREATE TABLE "Entries" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Entries" PRIMARY KEY AUTOINCREMENT,
    "OrderId" INTEGER NOT NULL,
    "LinePosition" INTEGER NOT NULL,
    "Payee" TEXT NOT NULL,
    "Agreement" TEXT NOT NULL,
    "Part" INTEGER NOT NULL,
    "RefundId" INTEGER NULL,
    "Amount" INTEGER NOT NULL,
    "Currency" TEXT NOT NULL,
    "PostedOn" TEXT NOT NULL,
    "Period" INTEGER NOT NULL,
    "ClearsOn" TEXT NULL,
    "RunId" INTEGER NULL,
    CONSTRAINT "FK_Entries_Orders_OrderId" FOREIGN KEY ("OrderId") REFERENCES "Orders" ("Id") ON DELETE CASCADE,
    CONSTRAINT "FK_Entries_Payees_Payee" FOREIGN KEY ("Payee") REFERENCES "Payees" ("Id") ON DELETE CASCADE
);
INSERT INTO "Entries" VALUES(1,1,0,'podcast','step',2,NULL,587,'EUR','2026-03-02',202603,'2026-03-02',NULL);
INSERT INTO "Entries" VALUES(2,2,0,'podcast','step',2,NULL,587,'EUR','2026-03-05',202603,'2026-03-05',NULL);
INSERT INTO "Entries" VALUES(3,2,0,'podcast','step',2,1,-750,'EUR','2026-03-07',202603,'2026-03-07',NULL);
INSERT INTO "Entries" VALUES(4,3,0,'podcast','step',2,NULL,880,'EUR','2026-03-09',202603,'2026-03-09',NULL);
INSERT INTO "Entries" VALUES(5,3,0,'podcast','step',2,2,-116,'EUR','2026-03-12',202603,'2026-03-12',NULL);
INSERT INTO "Entries" VALUES(6,4,0,'podcast','step',2,NULL,880,'EUR','2026-03-30',202603,'2026-03-30',NULL);
INSERT INTO "Entries" VALUES(7,5,0,'podcast','step',2,NULL,587,'EUR','2026-04-01',202604,'2026-04-01',NULL);
CREATE TABLE "EntryHolds" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_EntryHolds" PRIMARY KEY AUTOINCREMENT,
    "OrderId" INTEGER NOT NULL,
    "LinePosition" INTEGER NOT NULL,
    "Payee" TEXT NOT NULL,
    "Agreement" TEXT NOT NULL,
    "Reason" TEXT NOT NULL,
    "By" TEXT NOT NULL,
    "At" INTEGER NOT NULL,
    "LetGoBy" TEXT NULL,
    "LetGoAt" INTEGER NULL
);
CREATE TABLE "EntrySums" (
    "Period" INTEGER NOT NULL,
    "Payee" TEXT NOT NULL,
    "Currency" TEXT NOT NULL,
    "IsReversal" INTEGER NOT NULL,
    "Entries" INTEGER NOT NULL,
    "Amount" INTEGER NOT NULL,
    CONSTRAINT "PK_EntrySums" PRIMARY KEY ("Period", "Payee", "Currency", "IsReversal")
);
INSERT INTO "EntrySums" VALUES(202603,'podcast','EUR',0,4,2934);
INSERT INTO "EntrySums" VALUES(202603,'podcast','EUR',1,2,-866);
INSERT INTO "EntrySums" VALUES(202604,'podcast','EUR',0,1,587);
CREATE TABLE "EventSources" (
    "Id" TEXT NOT NULL CONSTRAINT "PK_EventSources" PRIMARY KEY,
    "Name" TEXT NOT NULL,
    "AddedBy" TEXT NOT NULL,
    "AddedAt" INTEGER NOT NULL,
    "ClosedAt" INTEGER NULL
);
CREATE TABLE "ExchangeRates" (
    "Date" TEXT NOT NULL,
    "From" TEXT NOT NULL,
    "To" TEXT NOT NULL,
    "Rate" INTEGER NOT NULL,
    CONSTRAINT "PK_ExchangeRates" PRIMARY KEY ("From", "To", "Date")
);
CREATE TABLE "FileSources" (
    "Name" TEXT NOT NULL,
    "Kind" INTEGER NOT NULL,
    "ColumnNames" TEXT NOT NULL,
    CONSTRAINT "PK_FileSources" PRIMARY KEY ("Name", "Kind")
);
CREATE TABLE "FriendDiscounts" (
    "SchemeId" INTEGER NOT NULL,
    "Collection" TEXT NOT NULL,
    "Percent" INTEGER NOT NULL,
    "PerUnit" INTEGER NOT NULL,
    CONSTRAINT "PK_FriendDiscounts" PRIMARY KEY ("SchemeId", "Collection"),
    CONSTRAINT "FK_FriendDiscounts_RewardSchemes_SchemeId" FOREIGN KEY ("SchemeId") REFERENCES "RewardSchemes" ("Id") ON DELETE CASCADE
);
CREATE TABLE "Holidays" (
    "On" TEXT NOT NULL CONSTRAINT "PK_Holidays" PRIMARY KEY,
    "Name" TEXT NOT NULL
);
CREATE TABLE "Imports" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Imports" PRIMARY KEY AUTOINCREMENT,
    "Kind" INTEGER NOT NULL,
    "FileName" TEXT NOT NULL,
    "StoredAs" TEXT NULL,
    "State" INTEGER NOT NULL,
    "Bytes" INTEGER NOT NULL,
    "BytesRead" INTEGER NOT NULL,
    "Rows" INTEGER NOT NULL,
    "Added" INTEGER NOT NULL,
    "Changed" INTEGER NOT NULL,
    "Unchanged" INTEGER NOT NULL,
    "Quarantined" INTEGER NOT NULL,
    "ExtraColumns" TEXT NOT NULL,
    "Fault" TEXT NULL,
    "By" TEXT NOT NULL,
    "At" INTEGER NOT NULL
, "ColumnNames" TEXT NOT NULL DEFAULT '');
CREATE TABLE "Inbox" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Inbox" PRIMARY KEY AUTOINCREMENT,
    "EventId" TEXT NOT NULL,
    "Source" TEXT NOT NULL,
    "Kind" INTEGER NOT NULL,
    "Order" TEXT NOT NULL,
    "Body" BLOB NOT NULL,
    "ReceivedAt" INTEGER NOT NULL,
    "State" INTEGER NOT NULL,
    "Fault" TEXT NULL
);
CREATE TABLE "Memberships" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Memberships" PRIMARY KEY AUTOINCREMENT,
    "PayeeId" TEXT NOT NULL,
    "AgreementId" TEXT NOT NULL,
    "From" TEXT NOT NULL,
    "To" TEXT NULL,
    CONSTRAINT "FK_Memberships_Agreements_AgreementId" FOREIGN KEY ("AgreementId") REFERENCES "Agreements" ("Id") ON DELETE CASCADE,
    CONSTRAINT "FK_Memberships_Payees_PayeeId" FOREIGN KEY ("PayeeId") REFERENCES "Payees" ("Id") ON DELETE CASCADE
);
INSERT INTO "Memberships" VALUES(1,'podcast','step','2025-01-01',NULL);
CREATE TABLE "OfferPaths" (
    "Id" TEXT NOT NULL CONSTRAINT "PK_OfferPaths" PRIMARY KEY,
    "Name" TEXT NOT NULL
);
CREATE TABLE "OfferSteps" (
    "PathId" TEXT NOT NULL,
    "Position" INTEGER NOT NULL,
    "Product" TEXT NOT NULL,
    "OnAccept" INTEGER NULL,
    "OnDecline" INTEGER NULL,
    CONSTRAINT "PK_OfferSteps" PRIMARY KEY ("PathId", "Position"),
    CONSTRAINT "FK_OfferSteps_OfferPaths_PathId" FOREIGN KEY ("PathId") REFERENCES "OfferPaths" ("Id") ON DELETE CASCADE,
    CONSTRAINT "FK_OfferSteps_Products_Product" FOREIGN KEY ("Product") REFERENCES "Products" ("Id") ON DELETE CASCADE
);
CREATE TABLE "OpenSums" (
    "Payee" TEXT NOT NULL,
    "Currency" TEXT NOT NULL,
    "ClearsOn" TEXT NOT NULL,
    "Amount" INTEGER NOT NULL,
    CONSTRAINT "PK_OpenSums" PRIMARY KEY ("Payee", "Currency", "ClearsOn")
);
INSERT INTO "OpenSums" VALUES('podcast','EUR','2026-03-02',587);
INSERT INTO "OpenSums" VALUES('podcast','EUR','2026-03-05',587);
INSERT INTO "OpenSums" VALUES('podcast','EUR','2026-03-07',-750);
INSERT INTO "OpenSums" VALUES('podcast','EUR','2026-03-09',880);
INSERT INTO "OpenSums" VALUES('podcast','EUR','2026-03-12',-116);
INSERT INTO "OpenSums" VALUES('podcast','EUR','2026-03-30',880);
INSERT INTO "OpenSums" VALUES('podcast','EUR','2026-04-01',587);
CREATE TABLE "OrderClicks" (
    "OrderId" INTEGER NOT NULL,
    "Position" INTEGER NOT NULL,
    "Payee" TEXT NOT NULL,
    "At" INTEGER NOT NULL,
    CONSTRAINT "PK_OrderClicks" PRIMARY KEY ("OrderId", "Position"),
    CONSTRAINT "FK_OrderClicks_Orders_OrderId" FOREIGN KEY ("OrderId") REFERENCES "Orders" ("Id") ON DELETE CASCADE
);
CREATE TABLE "OrderCodes" (
    "OrderId" INTEGER NOT NULL,
    "Position" INTEGER NOT NULL,
    "Code" TEXT COLLATE NOCASE NOT NULL,
    CONSTRAINT "PK_OrderCodes" PRIMARY KEY ("OrderId", "Position"),
    CONSTRAINT "FK_OrderCodes_Orders_OrderId" FOREIGN KEY ("OrderId") REFERENCES "Orders" ("Id") ON DELETE CASCADE
);
INSERT INTO "OrderCodes" VALUES(1,0,'WREN');
INSERT INTO "OrderCodes" VALUES(2,0,'WREN');
INSERT INTO "OrderCodes" VALUES(3,0,'WREN');
INSERT INTO "OrderCodes" VALUES(4,0,'WREN');
INSERT INTO "OrderCodes" VALUES(5,0,'WREN');
CREATE TABLE "OrderExceptions" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_OrderExceptions" PRIMARY KEY AUTOINCREMENT,
    "OrderId" INTEGER NOT NULL,
    "Code" INTEGER NOT NULL,
    "LineId" TEXT NULL,
    "Payee" TEXT NULL, "Actual" INTEGER NULL, "Expected" INTEGER NULL, "Price" INTEGER NULL,
    CONSTRAINT "FK_OrderExceptions_Orders_OrderId" FOREIGN KEY ("OrderId") REFERENCES "Orders" ("Id") ON DELETE CASCADE
);
CREATE TABLE "OrderLines" (
    "OrderId" INTEGER NOT NULL,
    "Position" INTEGER NOT NULL,
    "LineId" TEXT NOT NULL,
    "Product" TEXT NOT NULL,
    "Variant" TEXT NULL,
    "Quantity" INTEGER NOT NULL,
    "UnitPrice" INTEGER NOT NULL,
    "Discount" INTEGER NOT NULL,
    "Tax" INTEGER NOT NULL,
    "RequiresShipping" INTEGER NOT NULL,
    "PaymentNumber" INTEGER NULL,
    CONSTRAINT "PK_OrderLines" PRIMARY KEY ("OrderId", "Position"),
    CONSTRAINT "FK_OrderLines_Orders_OrderId" FOREIGN KEY ("OrderId") REFERENCES "Orders" ("Id") ON DELETE CASCADE,
    CONSTRAINT "FK_OrderLines_Products_Product" FOREIGN KEY ("Product") REFERENCES "Products" ("Id") ON DELETE CASCADE
);
INSERT INTO "OrderLines" VALUES(1,0,'l0','A',NULL,2,3000,0,690,0,NULL);
INSERT INTO "OrderLines" VALUES(2,0,'l0','A',NULL,2,3000,0,690,0,NULL);
INSERT INTO "OrderLines" VALUES(3,0,'l0','A',NULL,2,3000,0,690,0,NULL);
INSERT INTO "OrderLines" VALUES(4,0,'l0','A',NULL,2,3000,0,690,0,NULL);
INSERT INTO "OrderLines" VALUES(5,0,'l0','A',NULL,2,3000,0,690,0,NULL);
CREATE TABLE "Orders" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Orders" PRIMARY KEY AUTOINCREMENT,
    "OrderId" TEXT NOT NULL,
    "Channel" TEXT NOT NULL,
    "Currency" TEXT NOT NULL,
    "PlacedAt" INTEGER NOT NULL,
    "PaidAt" INTEGER NULL,
    "Period" INTEGER NOT NULL,
    "Processor" TEXT NULL,
    "IsTest" INTEGER NOT NULL,
    "PricesIncludeTax" INTEGER NOT NULL,
    "Customer" INTEGER NOT NULL,
    "CustomerKey" TEXT NULL,
    "Origin" TEXT NULL,
    "Discount" INTEGER NOT NULL,
    "Shipping" INTEGER NOT NULL,
    "ShippingTax" INTEGER NOT NULL,
    "ActualProcessingFee" INTEGER NULL,
    "ActualChannelFee" INTEGER NULL,
    "ActualRebate" INTEGER NULL,
    "ManualPayee" TEXT NULL,
    "FactsHash" INTEGER NOT NULL,
    "Status" INTEGER NOT NULL,
    "AttributedTo" TEXT NULL,
    "Via" INTEGER NULL,
    "GoodsNet" INTEGER NOT NULL,
    "Tax" INTEGER NOT NULL,
    "ShippingNet" INTEGER NOT NULL,
    "Charged" INTEGER NOT NULL,
    "ProcessingFee" INTEGER NOT NULL,
    "ChannelFee" INTEGER NOT NULL,
    "Rebate" INTEGER NOT NULL,
    "Affiliates" INTEGER NOT NULL,
    "Collaborators" INTEGER NOT NULL,
    "Vendors" INTEGER NOT NULL,
    "House" INTEGER NOT NULL,
    "ShippingKept" INTEGER NOT NULL,
    "Exceptions" INTEGER NOT NULL
, "SignedOffAt" INTEGER NULL, "TestSince" INTEGER NULL, "Visitor" TEXT NULL);
INSERT INTO "Orders" VALUES(1,'o1','shop','EUR',639080424000000000,639080424000000000,202603,NULL,0,0,0,NULL,NULL,0,0,0,133,NULL,NULL,NULL,-2797619781425063892,0,'podcast',1,6000,690,0,6690,133,0,0,587,0,0,5280,0,0,NULL,NULL,NULL);
INSERT INTO "Orders" VALUES(2,'o2','shop','EUR',639083016000000000,639083016000000000,202603,NULL,0,0,0,NULL,NULL,0,0,0,133,NULL,NULL,NULL,-4266170942657339639,0,'podcast',1,6000,690,0,6690,133,0,0,587,0,0,5280,0,0,NULL,NULL,NULL);
INSERT INTO "Orders" VALUES(3,'o3','shop','EUR',639086472000000000,639086472000000000,202603,NULL,0,0,0,NULL,NULL,0,0,0,133,NULL,NULL,NULL,3580409728122412794,0,'podcast',1,6000,690,0,6690,133,0,0,880,0,0,4987,0,0,NULL,NULL,NULL);
INSERT INTO "Orders" VALUES(4,'o4','shop','EUR',639104616000000000,639104616000000000,202603,NULL,0,0,0,NULL,NULL,0,0,0,133,NULL,NULL,NULL,-1850182471987114274,0,'podcast',1,6000,690,0,6690,133,0,0,880,0,0,4987,0,0,NULL,NULL,NULL);
INSERT INTO "Orders" VALUES(5,'o5','shop','EUR',639106272000000000,639106272000000000,202604,NULL,0,0,0,NULL,NULL,0,0,0,133,NULL,NULL,NULL,-3233841991894838131,0,'podcast',1,6000,690,0,6690,133,0,0,587,0,0,5280,0,0,NULL,NULL,NULL);
CREATE TABLE "PayRuns" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_PayRuns" PRIMARY KEY AUTOINCREMENT,
    "AsOf" TEXT NOT NULL,
    "State" INTEGER NOT NULL,
    "PreparedBy" TEXT NOT NULL,
    "LockedBy" TEXT NULL,
    "LockedAt" INTEGER NULL,
    "ApprovedBy" TEXT NULL,
    "ApprovedAt" INTEGER NULL
, "Payees" TEXT NULL, "Reference" TEXT NOT NULL DEFAULT '', "IssuedAt" INTEGER NULL);
CREATE TABLE "PayeeCodes" (
    "Code" TEXT COLLATE NOCASE NOT NULL CONSTRAINT "PK_PayeeCodes" PRIMARY KEY,
    "PayeeId" TEXT NOT NULL,
    CONSTRAINT "FK_PayeeCodes_Payees_PayeeId" FOREIGN KEY ("PayeeId") REFERENCES "Payees" ("Id") ON DELETE CASCADE
);
INSERT INTO "PayeeCodes" VALUES('WREN','podcast');
CREATE TABLE "Payees" (
    "Id" TEXT NOT NULL CONSTRAINT "PK_Payees" PRIMARY KEY,
    "Name" TEXT NOT NULL,
    "Role" INTEGER NOT NULL,
    "Email" TEXT NULL,
    "PayoutCurrency" TEXT NOT NULL,
    "ActiveFrom" TEXT NOT NULL,
    "ActiveTo" TEXT NULL,
    "HoldDays" INTEGER NULL,
    "OnHold" INTEGER NOT NULL,
    "Minimum" INTEGER NOT NULL,
    "WithholdingPercent" INTEGER NOT NULL,
    "TransferFee" INTEGER NOT NULL,
    "FreeTransfers" INTEGER NOT NULL,
    "RecoupPercent" INTEGER NOT NULL
, "CustomerKeys" TEXT NOT NULL DEFAULT '[]', "Position" INTEGER NOT NULL DEFAULT 0, "RecruitedBy" TEXT NULL, "Method" INTEGER NOT NULL DEFAULT 0, "Schedule" TEXT NOT NULL DEFAULT 'monthly', "TaxForm" TEXT NOT NULL DEFAULT '');
INSERT INTO "Payees" VALUES('podcast','podcast',0,NULL,'EUR','2025-01-01',NULL,NULL,0,0,0,0,0,0,'[]',0,NULL,0,'monthly','');
CREATE TABLE "PayingAccounts" (
    "Currency" TEXT NOT NULL CONSTRAINT "PK_PayingAccounts" PRIMARY KEY,
    "Holder" TEXT NOT NULL,
    "Iban" TEXT NOT NULL,
    "Bic" TEXT NOT NULL
);
CREATE TABLE "PaymentFiles" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_PaymentFiles" PRIMARY KEY AUTOINCREMENT,
    "RunId" INTEGER NOT NULL,
    "Method" INTEGER NOT NULL,
    "Currency" TEXT NOT NULL,
    "MessageId" TEXT NOT NULL,
    "FileName" TEXT NOT NULL,
    "Protected" BLOB NOT NULL,
    "Payments" INTEGER NOT NULL,
    "Sum" INTEGER NOT NULL,
    "MadeAt" INTEGER NOT NULL,
    "MadeBy" TEXT NOT NULL,
    "DeliveredAt" INTEGER NULL,
    CONSTRAINT "FK_PaymentFiles_PayRuns_RunId" FOREIGN KEY ("RunId") REFERENCES "PayRuns" ("Id") ON DELETE CASCADE
);
CREATE TABLE "PaymentMessages" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_PaymentMessages" PRIMARY KEY AUTOINCREMENT,
    "Kind" TEXT NOT NULL,
    "MessageId" TEXT NOT NULL,
    "FileName" TEXT NOT NULL,
    "ReadAt" INTEGER NOT NULL,
    "ReadBy" TEXT NOT NULL,
    "Confirmed" INTEGER NOT NULL,
    "Refused" INTEGER NOT NULL,
    "Returned" INTEGER NOT NULL,
    "Unknown" TEXT NOT NULL
);
CREATE TABLE "PayoutDetails" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_PayoutDetails" PRIMARY KEY AUTOINCREMENT,
    "Payee" TEXT NOT NULL,
    "Method" INTEGER NOT NULL,
    "Protected" BLOB NOT NULL,
    "Shown" TEXT NOT NULL,
    "ProposedBy" TEXT NOT NULL,
    "ProposedAt" INTEGER NOT NULL,
    "ConfirmedBy" TEXT NULL,
    "UsableFrom" TEXT NULL,
    "RefusedBy" TEXT NULL,
    "CameBack" INTEGER NOT NULL,
    CONSTRAINT "FK_PayoutDetails_Payees_Payee" FOREIGN KEY ("Payee") REFERENCES "Payees" ("Id") ON DELETE CASCADE
);
CREATE TABLE "PeriodTotals" (
    "Period" INTEGER NOT NULL,
    "Currency" TEXT NOT NULL,
    "Orders" INTEGER NOT NULL,
    "GoodsNet" INTEGER NOT NULL,
    "Tax" INTEGER NOT NULL,
    "ShippingNet" INTEGER NOT NULL,
    "Charged" INTEGER NOT NULL,
    "ProcessingFee" INTEGER NOT NULL,
    "ChannelFee" INTEGER NOT NULL,
    "Rebate" INTEGER NOT NULL,
    "Affiliates" INTEGER NOT NULL,
    "Collaborators" INTEGER NOT NULL,
    "Vendors" INTEGER NOT NULL,
    "House" INTEGER NOT NULL,
    "ShippingKept" INTEGER NOT NULL,
    "WithExceptions" INTEGER NOT NULL,
    CONSTRAINT "PK_PeriodTotals" PRIMARY KEY ("Period", "Currency")
);
INSERT INTO "PeriodTotals" VALUES(202603,'EUR',4,24000,2760,0,26760,532,0,0,2934,0,0,20534,0,0);
INSERT INTO "PeriodTotals" VALUES(202604,'EUR',1,6000,690,0,6690,133,0,0,587,0,0,5280,0,0);
CREATE TABLE "PersonalTerms" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_PersonalTerms" PRIMARY KEY AUTOINCREMENT,
    "PayeeId" TEXT NOT NULL,
    "AgreementId" TEXT NOT NULL,
    "From" TEXT NULL,
    "To" TEXT NULL,
    "Document" TEXT NOT NULL,
    CONSTRAINT "FK_PersonalTerms_Agreements_AgreementId" FOREIGN KEY ("AgreementId") REFERENCES "Agreements" ("Id") ON DELETE CASCADE,
    CONSTRAINT "FK_PersonalTerms_Payees_PayeeId" FOREIGN KEY ("PayeeId") REFERENCES "Payees" ("Id") ON DELETE CASCADE
);
CREATE TABLE "ProcessorSchedules" (
    "ProcessorId" TEXT NOT NULL,
    "From" TEXT NOT NULL,
    "FeeRate" INTEGER NOT NULL,
    "FeeFixed" INTEGER NOT NULL,
    "Currency" TEXT NOT NULL,
    CONSTRAINT "PK_ProcessorSchedules" PRIMARY KEY ("ProcessorId", "From"),
    CONSTRAINT "FK_ProcessorSchedules_Processors_ProcessorId" FOREIGN KEY ("ProcessorId") REFERENCES "Processors" ("Id") ON DELETE CASCADE
);
CREATE TABLE "Processors" (
    "Id" TEXT NOT NULL CONSTRAINT "PK_Processors" PRIMARY KEY,
    "FeeRate" INTEGER NOT NULL,
    "FeeFixed" INTEGER NOT NULL,
    "Currency" TEXT NOT NULL
);
CREATE TABLE "ProductCollections" (
    "ProductId" TEXT NOT NULL,
    "Collection" TEXT NOT NULL,
    CONSTRAINT "PK_ProductCollections" PRIMARY KEY ("ProductId", "Collection"),
    CONSTRAINT "FK_ProductCollections_Products_ProductId" FOREIGN KEY ("ProductId") REFERENCES "Products" ("Id") ON DELETE CASCADE
);
INSERT INTO "ProductCollections" VALUES('B','c');
CREATE TABLE "ProductCosts" (
    "ProductId" TEXT NOT NULL,
    "From" TEXT NOT NULL,
    "Cost" INTEGER NOT NULL,
    "Currency" TEXT NOT NULL,
    CONSTRAINT "PK_ProductCosts" PRIMARY KEY ("ProductId", "From"),
    CONSTRAINT "FK_ProductCosts_Products_ProductId" FOREIGN KEY ("ProductId") REFERENCES "Products" ("Id") ON DELETE CASCADE
);
CREATE TABLE "Products" (
    "Id" TEXT NOT NULL CONSTRAINT "PK_Products" PRIMARY KEY,
    "Name" TEXT NOT NULL,
    "Price" INTEGER NOT NULL,
    "Currency" TEXT NOT NULL,
    "Vendor" TEXT NULL,
    "UnitCost" INTEGER NULL,
    "CostCurrency" TEXT NOT NULL,
    "ReturnDays" INTEGER NOT NULL
, "PaymentPlan" TEXT NOT NULL DEFAULT '', "PricePlan" TEXT NOT NULL DEFAULT '');
INSERT INTO "Products" VALUES('A','A',0,'EUR',NULL,NULL,'EUR',0,'','');
INSERT INTO "Products" VALUES('B','B',0,'EUR',NULL,NULL,'EUR',0,'','');
CREATE TABLE "ProgressEvents" (
    "Payee" TEXT NOT NULL,
    "Agreement" TEXT NOT NULL,
    "Currency" TEXT NOT NULL,
    "At" INTEGER NOT NULL,
    "IsRefund" INTEGER NOT NULL,
    "EventId" TEXT NOT NULL,
    "OrderId" INTEGER NOT NULL,
    "On" TEXT NOT NULL,
    "Sales" INTEGER NOT NULL,
    "Orders" INTEGER NOT NULL,
    "Earned" INTEGER NOT NULL,
    "After" TEXT NOT NULL,
    CONSTRAINT "PK_ProgressEvents" PRIMARY KEY ("Payee", "Agreement", "Currency", "At", "IsRefund", "EventId")
);
INSERT INTO "ProgressEvents" VALUES('podcast','','EUR',639080424000000000,0,'o1',1,'2026-03-02',6000,1,587,'739676;6000 1 587 6000 1 587;6000 1 587 6000 1 587;6000 1 587 6000 1 587;6000 1 587 6000 1 587');
INSERT INTO "ProgressEvents" VALUES('podcast','','EUR',639083016000000000,0,'o2',2,'2026-03-05',6000,1,587,'739679;12000 2 1174 12000 2 1174;12000 2 1174 12000 2 1174;12000 2 1174 12000 2 1174;12000 2 1174 12000 2 1174');
INSERT INTO "ProgressEvents" VALUES('podcast','','EUR',639084744000000000,1,'r1',2,'2026-03-07',-6000,-1,-750,'739681;6000 1 424 12000 2 1174;6000 1 424 12000 2 1174;6000 1 424 12000 2 1174;6000 1 424 12000 2 1174');
INSERT INTO "ProgressEvents" VALUES('podcast','','EUR',639086472000000000,0,'o3',3,'2026-03-09',6000,1,880,'739683;12000 2 1304 12000 2 1304;12000 2 1304 12000 2 1304;12000 2 1304 12000 2 1304;12000 2 1304 12000 2 1304');
INSERT INTO "ProgressEvents" VALUES('podcast','','EUR',639089064000000000,1,'r2',3,'2026-03-12',-777,0,-116,'739686;11223 2 1188 12000 2 1304;11223 2 1188 12000 2 1304;11223 2 1188 12000 2 1304;11223 2 1188 12000 2 1304');
INSERT INTO "ProgressEvents" VALUES('podcast','','EUR',639104616000000000,0,'o4',4,'2026-03-30',6000,1,880,'739704;17223 3 2068 17223 3 2068;17223 3 2068 17223 3 2068;17223 3 2068 17223 3 2068;17223 3 2068 17223 3 2068');
INSERT INTO "ProgressEvents" VALUES('podcast','','EUR',639106272000000000,0,'o5',5,'2026-04-01',6000,1,587,'739706;23223 4 2655 23223 4 2655;6000 1 587 6000 1 587;6000 1 587 6000 1 587;23223 4 2655 23223 4 2655');
CREATE TABLE "ProgressTracks" (
    "Payee" TEXT NOT NULL,
    "Agreement" TEXT NOT NULL,
    "Currency" TEXT NOT NULL,
    CONSTRAINT "PK_ProgressTracks" PRIMARY KEY ("Payee", "Agreement", "Currency")
);
INSERT INTO "ProgressTracks" VALUES('podcast','','EUR');
CREATE TABLE "Quarantine" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Quarantine" PRIMARY KEY AUTOINCREMENT,
    "ImportId" INTEGER NOT NULL,
    "Row" INTEGER NOT NULL,
    "Group" TEXT NOT NULL,
    "Cells" TEXT NOT NULL,
    "Columns" TEXT NOT NULL,
    "Fault" TEXT NOT NULL,
    "State" INTEGER NOT NULL,
    CONSTRAINT "FK_Quarantine_Imports_ImportId" FOREIGN KEY ("ImportId") REFERENCES "Imports" ("Id") ON DELETE CASCADE
);
CREATE TABLE "Recalculations" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Recalculations" PRIMARY KEY AUTOINCREMENT,
    "Touched" TEXT NOT NULL,
    "Total" INTEGER NOT NULL,
    "Done" INTEGER NOT NULL,
    "Changed" INTEGER NOT NULL,
    "LastOrderId" INTEGER NOT NULL,
    "IsFinished" INTEGER NOT NULL
);
CREATE TABLE "Recoupments" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Recoupments" PRIMARY KEY AUTOINCREMENT,
    "RunId" INTEGER NOT NULL,
    "AdvanceId" INTEGER NOT NULL,
    "Amount" INTEGER NOT NULL,
    CONSTRAINT "FK_Recoupments_Advances_AdvanceId" FOREIGN KEY ("AdvanceId") REFERENCES "Advances" ("Id") ON DELETE CASCADE,
    CONSTRAINT "FK_Recoupments_PayRuns_RunId" FOREIGN KEY ("RunId") REFERENCES "PayRuns" ("Id") ON DELETE CASCADE
);
CREATE TABLE "RefundLines" (
    "RefundId" INTEGER NOT NULL,
    "Position" INTEGER NOT NULL,
    "LineId" TEXT NOT NULL,
    "Quantity" INTEGER NOT NULL,
    "Goods" INTEGER NOT NULL,
    "Tax" INTEGER NOT NULL,
    CONSTRAINT "PK_RefundLines" PRIMARY KEY ("RefundId", "Position"),
    CONSTRAINT "FK_RefundLines_Refunds_RefundId" FOREIGN KEY ("RefundId") REFERENCES "Refunds" ("Id") ON DELETE CASCADE
);
INSERT INTO "RefundLines" VALUES(1,0,'l0',2,6000,690);
INSERT INTO "RefundLines" VALUES(2,0,'l0',0,777,80);
CREATE TABLE "Refunds" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Refunds" PRIMARY KEY AUTOINCREMENT,
    "RefundId" TEXT NOT NULL,
    "OrderId" INTEGER NOT NULL,
    "At" INTEGER NOT NULL,
    "Kind" INTEGER NOT NULL,
    "Shipping" INTEGER NOT NULL,
    "ShippingTax" INTEGER NOT NULL,
    "ProcessingFeeReturned" INTEGER NOT NULL,
    "DisputeFee" INTEGER NOT NULL,
    "FactsHash" INTEGER NOT NULL,
    CONSTRAINT "FK_Refunds_Orders_OrderId" FOREIGN KEY ("OrderId") REFERENCES "Orders" ("Id") ON DELETE CASCADE
);
INSERT INTO "Refunds" VALUES(1,'r1',2,639084744000000000,1,0,0,0,1500,767735047517858693);
INSERT INTO "Refunds" VALUES(2,'r2',3,639089064000000000,0,0,0,0,0,4842830252138876463);
CREATE TABLE "Rehearsals" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Rehearsals" PRIMARY KEY AUTOINCREMENT,
    "AgreementId" TEXT NOT NULL,
    "DraftId" INTEGER NOT NULL,
    "ToPublish" INTEGER NOT NULL,
    "Document" TEXT NOT NULL,
    "From" TEXT NOT NULL,
    "To" TEXT NOT NULL,
    "State" INTEGER NOT NULL,
    "Total" INTEGER NOT NULL,
    "Done" INTEGER NOT NULL,
    "Result" TEXT NULL,
    "Fault" TEXT NULL,
    "AskedBy" TEXT NOT NULL,
    "AskedAt" INTEGER NOT NULL
);
CREATE TABLE "Remittances" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Remittances" PRIMARY KEY AUTOINCREMENT,
    "RunId" INTEGER NOT NULL,
    "Payee" TEXT NOT NULL,
    "Currency" TEXT NOT NULL,
    "Opening" INTEGER NOT NULL,
    "Earned" INTEGER NOT NULL,
    "Adjustments" INTEGER NOT NULL,
    "Recouped" INTEGER NOT NULL,
    "Withheld" INTEGER NOT NULL,
    "TransferFee" INTEGER NOT NULL,
    "Paid" INTEGER NOT NULL,
    "Carried" INTEGER NOT NULL,
    "Reason" INTEGER NOT NULL,
    "State" INTEGER NOT NULL,
    "PaidOn" TEXT NULL,
    "Reference" TEXT NULL, "DetailsId" INTEGER NULL, "EndToEnd" TEXT NULL, "Evidence" TEXT NULL, "FileId" INTEGER NULL, "Method" INTEGER NOT NULL DEFAULT 0, "Why" TEXT NULL,
    CONSTRAINT "FK_Remittances_PayRuns_RunId" FOREIGN KEY ("RunId") REFERENCES "PayRuns" ("Id") ON DELETE CASCADE,
    CONSTRAINT "FK_Remittances_Payees_Payee" FOREIGN KEY ("Payee") REFERENCES "Payees" ("Id") ON DELETE CASCADE
);
CREATE TABLE "RewardSchemes" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_RewardSchemes" PRIMARY KEY AUTOINCREMENT,
    "Name" TEXT NOT NULL,
    "From" TEXT NOT NULL,
    "To" TEXT NULL,
    "NewCustomersOnly" INTEGER NOT NULL,
    "CreditPercent" INTEGER NOT NULL,
    "CreditFixed" INTEGER NOT NULL,
    "HoldDays" INTEGER NOT NULL
);
CREATE TABLE "RunMarks" (
    "RunId" INTEGER NOT NULL,
    "Payee" TEXT NOT NULL,
    "Mark" INTEGER NOT NULL,
    "Says" TEXT NOT NULL,
    "LookedAtBy" TEXT NULL,
    CONSTRAINT "PK_RunMarks" PRIMARY KEY ("RunId", "Payee", "Mark"),
    CONSTRAINT "FK_RunMarks_PayRuns_RunId" FOREIGN KEY ("RunId") REFERENCES "PayRuns" ("Id") ON DELETE CASCADE
);
CREATE TABLE "RunRates" (
    "RunId" INTEGER NOT NULL,
    "From" TEXT NOT NULL,
    "To" TEXT NOT NULL,
    "Source" TEXT NOT NULL,
    CONSTRAINT "PK_RunRates" PRIMARY KEY ("RunId", "From", "To"),
    CONSTRAINT "FK_RunRates_PayRuns_RunId" FOREIGN KEY ("RunId") REFERENCES "PayRuns" ("Id") ON DELETE CASCADE
);
CREATE TABLE "StoreCredits" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_StoreCredits" PRIMARY KEY AUTOINCREMENT,
    "On" TEXT NOT NULL,
    "CustomerKey" TEXT NOT NULL,
    "Amount" INTEGER NOT NULL,
    "By" TEXT NOT NULL
);
CREATE TABLE "Targets" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_Targets" PRIMARY KEY AUTOINCREMENT,
    "Name" TEXT NOT NULL,
    "AgreementId" TEXT NOT NULL,
    "Measure" INTEGER NOT NULL,
    "AtLeast" INTEGER NOT NULL,
    "Window" INTEGER NOT NULL,
    "From" TEXT NOT NULL,
    "To" TEXT NULL,
    "Bonus" INTEGER NULL,
    "MoveTo" TEXT NULL,
    CONSTRAINT "FK_Targets_Agreements_AgreementId" FOREIGN KEY ("AgreementId") REFERENCES "Agreements" ("Id") ON DELETE CASCADE
);
CREATE TABLE "TargetsReached" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_TargetsReached" PRIMARY KEY AUTOINCREMENT,
    "TargetId" INTEGER NOT NULL,
    "Payee" TEXT NOT NULL,
    "WindowStart" TEXT NOT NULL,
    "Figure" INTEGER NOT NULL,
    "NoticedOn" TEXT NOT NULL,
    "State" INTEGER NOT NULL,
    "DecidedBy" TEXT NOT NULL,
    "Reason" TEXT NOT NULL,
    CONSTRAINT "FK_TargetsReached_Payees_Payee" FOREIGN KEY ("Payee") REFERENCES "Payees" ("Id") ON DELETE CASCADE,
    CONSTRAINT "FK_TargetsReached_Targets_TargetId" FOREIGN KEY ("TargetId") REFERENCES "Targets" ("Id") ON DELETE CASCADE
);
CREATE TABLE "Variants" (
    "Id" TEXT NOT NULL CONSTRAINT "PK_Variants" PRIMARY KEY,
    "ProductId" TEXT NOT NULL,
    "Name" TEXT NOT NULL,
    CONSTRAINT "FK_Variants_Products_ProductId" FOREIGN KEY ("ProductId") REFERENCES "Products" ("Id") ON DELETE CASCADE
);
CREATE TABLE "WithdrawnVersions" (
    "VersionId" INTEGER NOT NULL CONSTRAINT "PK_WithdrawnVersions" PRIMARY KEY,
    "By" TEXT NOT NULL,
    "At" INTEGER NOT NULL,
    CONSTRAINT "FK_WithdrawnVersions_AgreementVersions_VersionId" FOREIGN KEY ("VersionId") REFERENCES "AgreementVersions" ("Id") ON DELETE CASCADE
);
CREATE TABLE "WriteOffs" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK_WriteOffs" PRIMARY KEY AUTOINCREMENT,
    "Payee" TEXT NOT NULL,
    "Amount" INTEGER NOT NULL,
    "Currency" TEXT NOT NULL,
    "Reason" TEXT NOT NULL,
    "ProposedBy" TEXT NOT NULL,
    "ProposedAt" INTEGER NOT NULL,
    "ConfirmedBy" TEXT NULL,
    "RefusedBy" TEXT NULL,
    CONSTRAINT "FK_WriteOffs_Payees_Payee" FOREIGN KEY ("Payee") REFERENCES "Payees" ("Id") ON DELETE CASCADE
);
CREATE TABLE "__EFMigrationsHistory" (
    "MigrationId" TEXT NOT NULL CONSTRAINT "PK___EFMigrationsHistory" PRIMARY KEY,
    "ProductVersion" TEXT NOT NULL
);
INSERT INTO "__EFMigrationsHistory" VALUES('20261123162640_FirstBook','10.0.15');
INSERT INTO "__EFMigrationsHistory" VALUES('20261123192932_WholeScenario','10.0.15');
INSERT INTO "__EFMigrationsHistory" VALUES('20261123212228_Rehearsals','10.0.15');
INSERT INTO "__EFMigrationsHistory" VALUES('20261123214443_BulkChanges','10.0.15');
INSERT INTO "__EFMigrationsHistory" VALUES('20261123215130_AgreementTexts','10.0.15');
INSERT INTO "__EFMigrationsHistory" VALUES('20261124022750_PlansOffersDoors','10.0.15');
INSERT INTO "__EFMigrationsHistory" VALUES('20261124044904_Payments','10.0.15');
INSERT INTO "__EFMigrationsHistory" VALUES('20261125131220_ReversalsOfRuns','10.0.15');
CREATE TABLE "__EFMigrationsLock" (
    "Id" INTEGER NOT NULL CONSTRAINT "PK___EFMigrationsLock" PRIMARY KEY,
    "Timestamp" TEXT NOT NULL
);
CREATE INDEX "IX_AspNetRoleClaims_RoleId" ON "AspNetRoleClaims" ("RoleId");
CREATE UNIQUE INDEX "RoleNameIndex" ON "AspNetRoles" ("NormalizedName");
CREATE INDEX "IX_AspNetUserClaims_UserId" ON "AspNetUserClaims" ("UserId");
CREATE INDEX "IX_AspNetUserLogins_UserId" ON "AspNetUserLogins" ("UserId");
CREATE INDEX "IX_AspNetUserRoles_RoleId" ON "AspNetUserRoles" ("RoleId");
CREATE INDEX "EmailIndex" ON "AspNetUsers" ("NormalizedEmail");
CREATE UNIQUE INDEX "UserNameIndex" ON "AspNetUsers" ("NormalizedUserName");
CREATE INDEX "IX_Entries_Open" ON "Entries" ("Payee", "ClearsOn") WHERE RunId IS NULL;
CREATE INDEX "IX_Entries_OrderId" ON "Entries" ("OrderId");
CREATE INDEX "IX_Entries_Payee_PostedOn_Id" ON "Entries" ("Payee", "PostedOn", "Id");
CREATE INDEX "IX_Entries_Period_PostedOn_Id" ON "Entries" ("Period", "PostedOn", "Id");
CREATE INDEX "IX_Entries_Run" ON "Entries" ("RunId", "Payee") WHERE RunId IS NOT NULL;
CREATE INDEX "IX_EntrySums_Payee" ON "EntrySums" ("Payee");
CREATE INDEX "IX_Memberships_AgreementId" ON "Memberships" ("AgreementId");
CREATE INDEX "IX_Memberships_PayeeId" ON "Memberships" ("PayeeId");
CREATE INDEX "IX_OrderExceptions_OrderId" ON "OrderExceptions" ("OrderId");
CREATE INDEX "IX_OrderLines_Product" ON "OrderLines" ("Product");
CREATE UNIQUE INDEX "IX_Orders_OrderId" ON "Orders" ("OrderId");
CREATE INDEX "IX_Orders_Origin" ON "Orders" ("Origin") WHERE Origin IS NOT NULL;
CREATE INDEX "IX_Orders_Period_PlacedAt_Id" ON "Orders" ("Period", "PlacedAt", "Id");
CREATE INDEX "IX_PayeeCodes_PayeeId" ON "PayeeCodes" ("PayeeId");
CREATE INDEX "IX_Quarantine_ImportId" ON "Quarantine" ("ImportId");
CREATE INDEX "IX_Quarantine_State_ImportId_Row" ON "Quarantine" ("State", "ImportId", "Row");
CREATE INDEX "IX_Recoupments_AdvanceId" ON "Recoupments" ("AdvanceId");
CREATE INDEX "IX_Recoupments_RunId" ON "Recoupments" ("RunId");
CREATE INDEX "IX_Refunds_OrderId" ON "Refunds" ("OrderId");
CREATE UNIQUE INDEX "IX_Refunds_RefundId" ON "Refunds" ("RefundId");
CREATE INDEX "IX_Remittances_Payee" ON "Remittances" ("Payee");
CREATE UNIQUE INDEX "IX_Remittances_RunId_Payee" ON "Remittances" ("RunId", "Payee");
CREATE INDEX "IX_Variants_ProductId" ON "Variants" ("ProductId");
CREATE TRIGGER Entries_NoDelete BEFORE DELETE ON Entries BEGIN SELECT RAISE(ABORT, 'an entry is never deleted, only followed by another'); END;
CREATE TRIGGER AgreementVersions_NoDelete BEFORE DELETE ON AgreementVersions BEGIN SELECT RAISE(ABORT, 'a published version is never deleted'); END;
CREATE TRIGGER Audit_NoDelete BEFORE DELETE ON Audit BEGIN SELECT RAISE(ABORT, 'the audit log is never shortened'); END;
CREATE TRIGGER AgreementVersions_NoUpdate BEFORE UPDATE ON AgreementVersions BEGIN SELECT RAISE(ABORT, 'a row of AgreementVersions is never edited'); END;
CREATE TRIGGER Recoupments_NoUpdate BEFORE UPDATE ON Recoupments BEGIN SELECT RAISE(ABORT, 'a row of Recoupments is never edited'); END;
CREATE TRIGGER Audit_NoUpdate BEFORE UPDATE ON Audit BEGIN SELECT RAISE(ABORT, 'a row of Audit is never edited'); END;
CREATE TRIGGER Remittances_NoUpdate BEFORE UPDATE OF Id, RunId, Payee, Currency, Opening, Earned, Adjustments, Recouped, Withheld, TransferFee, Paid, Carried, Reason ON Remittances
BEGIN SELECT RAISE(ABORT, 'the figures of a locked run never change'); END;
CREATE TRIGGER Adjustments_NoDelete BEFORE DELETE ON Adjustments WHEN OLD.RunId IS NOT NULL
BEGIN SELECT RAISE(ABORT, 'an adjustment that a run has taken is never deleted'); END;
CREATE TRIGGER PayRuns_NoDelete BEFORE DELETE ON PayRuns WHEN OLD.State > 0
BEGIN SELECT RAISE(ABORT, 'a locked run is never deleted'); END;
CREATE TRIGGER Entries_NoUpdate BEFORE UPDATE OF Id, OrderId, LinePosition, Payee, Agreement, Part, RefundId, Amount, Currency, PostedOn, Period ON Entries
BEGIN SELECT RAISE(ABORT, 'an entry is never edited, only followed by another'); END;
CREATE TRIGGER Entries_ClearsUntilTaken BEFORE UPDATE OF ClearsOn ON Entries WHEN OLD.RunId IS NOT NULL
BEGIN SELECT RAISE(ABORT, 'an entry that a run has taken is never edited'); END;
CREATE UNIQUE INDEX "IX_PayRuns_Reference" ON "PayRuns" ("Reference");
CREATE INDEX "IX_Orders_AttributedTo_Period_PlacedAt_Id" ON "Orders" ("AttributedTo", "Period", "PlacedAt", "Id") WHERE AttributedTo IS NOT NULL;
CREATE INDEX "IX_Orders_ManualPayee" ON "Orders" ("ManualPayee") WHERE ManualPayee IS NOT NULL;
CREATE INDEX "IX_Orders_WithExceptions" ON "Orders" ("Period", "PlacedAt", "Id") WHERE Exceptions > 0;
CREATE UNIQUE INDEX "IX_Advances_PayeeId_Reference" ON "Advances" ("PayeeId", "Reference");
CREATE UNIQUE INDEX "IX_Adjustments_Reference" ON "Adjustments" ("Reference");
CREATE INDEX "IX_OrderClicks_Payee" ON "OrderClicks" ("Payee");
CREATE INDEX "IX_OrderCodes_Code" ON "OrderCodes" ("Code");
CREATE INDEX "IX_PersonalTerms_AgreementId" ON "PersonalTerms" ("AgreementId");
CREATE INDEX "IX_PersonalTerms_PayeeId" ON "PersonalTerms" ("PayeeId");
CREATE INDEX "IX_ProgressEvents_OrderId" ON "ProgressEvents" ("OrderId");
CREATE INDEX "IX_Acceptances_Payee" ON "Acceptances" ("Payee");
CREATE UNIQUE INDEX "IX_Acceptances_VersionId_Payee" ON "Acceptances" ("VersionId", "Payee");
CREATE TRIGGER Acceptances_NoDelete BEFORE DELETE ON Acceptances BEGIN SELECT RAISE(ABORT, 'an acceptance is never deleted'); END;
CREATE TRIGGER Acceptances_NoUpdate BEFORE UPDATE ON Acceptances BEGIN SELECT RAISE(ABORT, 'an acceptance is never edited'); END;
CREATE INDEX "IX_Orders_TestSince" ON "Orders" ("TestSince") WHERE TestSince IS NOT NULL;
CREATE INDEX "IX_Orders_Visitor" ON "Orders" ("Visitor") WHERE Visitor IS NOT NULL;
CREATE INDEX "IX_AgreementVersions_AgreementId_From" ON "AgreementVersions" ("AgreementId", "From");
CREATE INDEX "IX_CauseNotes_Cause" ON "CauseNotes" ("Cause");
CREATE INDEX "IX_Clicks_Order" ON "Clicks" ("Order") WHERE "Order" <> '';
CREATE UNIQUE INDEX "IX_Clicks_Payee_At_Visitor_Order" ON "Clicks" ("Payee", "At", "Visitor", "Order");
CREATE INDEX "IX_Clicks_Period" ON "Clicks" ("Period");
CREATE INDEX "IX_Clicks_Visitor_At" ON "Clicks" ("Visitor", "At") WHERE Visitor <> '';
CREATE INDEX "IX_CountedSales_OrderId" ON "CountedSales" ("OrderId");
CREATE INDEX "IX_CustomerCodes_CustomerKey" ON "CustomerCodes" ("CustomerKey");
CREATE INDEX "IX_EntryHolds_OrderId" ON "EntryHolds" ("OrderId") WHERE LetGoAt IS NULL;
CREATE UNIQUE INDEX "IX_Inbox_EventId" ON "Inbox" ("EventId");
CREATE INDEX "IX_Inbox_Order" ON "Inbox" ("Order") WHERE State = 2;
CREATE INDEX "IX_Inbox_State_Id" ON "Inbox" ("State", "Id") WHERE State <> 1;
CREATE INDEX "IX_OfferSteps_Product" ON "OfferSteps" ("Product");
CREATE INDEX "IX_StoreCredits_CustomerKey" ON "StoreCredits" ("CustomerKey");
CREATE INDEX "IX_Targets_AgreementId" ON "Targets" ("AgreementId");
CREATE INDEX "IX_TargetsReached_Payee" ON "TargetsReached" ("Payee");
CREATE INDEX "IX_TargetsReached_State" ON "TargetsReached" ("State");
CREATE UNIQUE INDEX "IX_TargetsReached_TargetId_Payee_WindowStart" ON "TargetsReached" ("TargetId", "Payee", "WindowStart");
CREATE TRIGGER StoreCredits_NoDelete BEFORE DELETE ON StoreCredits BEGIN SELECT RAISE(ABORT, 'store credit that was given is never deleted'); END;
CREATE TRIGGER StoreCredits_NoUpdate BEFORE UPDATE ON StoreCredits BEGIN SELECT RAISE(ABORT, 'store credit that was given is never edited'); END;
CREATE UNIQUE INDEX "IX_Remittances_EndToEnd" ON "Remittances" ("EndToEnd") WHERE EndToEnd IS NOT NULL;
CREATE INDEX "IX_Adjustments_Payee_RunId" ON "Adjustments" ("Payee", "RunId");
CREATE UNIQUE INDEX "IX_PaymentFiles_MessageId" ON "PaymentFiles" ("MessageId");
CREATE INDEX "IX_PaymentFiles_RunId" ON "PaymentFiles" ("RunId");
CREATE UNIQUE INDEX "IX_PaymentMessages_Kind_MessageId" ON "PaymentMessages" ("Kind", "MessageId");
CREATE INDEX "IX_PayoutDetails_Payee" ON "PayoutDetails" ("Payee");
CREATE INDEX "IX_WriteOffs_Payee" ON "WriteOffs" ("Payee");
CREATE TRIGGER Remittances_NoDelete BEFORE DELETE ON Remittances WHEN (SELECT State FROM PayRuns WHERE Id = OLD.RunId) <> 1
BEGIN SELECT RAISE(ABORT, 'a remittance of a run that was approved is never deleted'); END;
CREATE TRIGGER Recoupments_NoDelete BEFORE DELETE ON Recoupments WHEN (SELECT State FROM PayRuns WHERE Id = OLD.RunId) <> 1
BEGIN SELECT RAISE(ABORT, 'a recoupment of a run that was approved is never deleted'); END;
CREATE TRIGGER Entries_OneRun BEFORE UPDATE OF RunId ON Entries WHEN OLD.RunId IS NOT NULL AND (NEW.RunId IS NOT NULL OR (SELECT State FROM PayRuns WHERE Id = OLD.RunId) <> 1)
BEGIN SELECT RAISE(ABORT, 'an entry is in one run only'); END;
CREATE TRIGGER Adjustments_TakenOnce BEFORE UPDATE ON Adjustments WHEN OLD.RunId IS NOT NULL AND (NEW.RunId IS NOT NULL OR (SELECT State FROM PayRuns WHERE Id = OLD.RunId) <> 1)
BEGIN SELECT RAISE(ABORT, 'an adjustment that a run has taken is never edited'); END;
CREATE TRIGGER Remittances_IssuedOnce BEFORE UPDATE OF EndToEnd, FileId ON Remittances WHEN OLD.EndToEnd IS NOT NULL
BEGIN SELECT RAISE(ABORT, 'a payment that was issued is never issued again'); END;
CREATE TRIGGER PaymentFiles_NoDelete BEFORE DELETE ON PaymentFiles BEGIN SELECT RAISE(ABORT, 'a payment file is never deleted'); END;
CREATE TRIGGER PaymentFiles_NoUpdate BEFORE UPDATE OF Id, RunId, MessageId, Protected, Payments, Sum, Currency ON PaymentFiles
BEGIN SELECT RAISE(ABORT, 'a payment file is never edited'); END;
CREATE INDEX "IX_Entries_OpenReversals" ON "Entries" ("Payee", "ClearsOn", "Currency", "Amount") WHERE RunId IS NULL AND Amount < 0;
CREATE INDEX "IX_Entries_RunReversals" ON "Entries" ("RunId", "Payee", "Currency", "Amount") WHERE RunId IS NOT NULL AND Amount < 0;
DELETE FROM "sqlite_sequence";
INSERT INTO "sqlite_sequence" VALUES('Book',1);
INSERT INTO "sqlite_sequence" VALUES('Audit',5);
INSERT INTO "sqlite_sequence" VALUES('AgreementVersions',1);
INSERT INTO "sqlite_sequence" VALUES('Memberships',1);
INSERT INTO "sqlite_sequence" VALUES('Orders',5);
INSERT INTO "sqlite_sequence" VALUES('Refunds',2);
INSERT INTO "sqlite_sequence" VALUES('Entries',7);
COMMIT;
