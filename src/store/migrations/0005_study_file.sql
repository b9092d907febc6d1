ALTER TABLE `parts` ADD `demo` integer DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `studies` ADD `notes` text DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `studies` ADD `simulation` text;--> statement-breakpoint
UPDATE `parts` SET `demo` = 1 WHERE `id` IN ('demo-port', 'demo-cable-k5', 'demo-cable-k2', 'demo-serac', 'demo-moraine');
