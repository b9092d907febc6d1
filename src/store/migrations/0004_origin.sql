ALTER TABLE `measurements` ADD `origin` text DEFAULT 'measured' NOT NULL;--> statement-breakpoint
ALTER TABLE `measurements` ADD `stated` text;--> statement-breakpoint
UPDATE `measurements` SET `origin` = 'simulated' WHERE `conditions` ->> '$.simulated' = 1;
