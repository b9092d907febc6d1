CREATE TABLE `study_parts` (
	`study_id` text PRIMARY KEY NOT NULL,
	`version` text NOT NULL,
	`series` text NOT NULL,
	`best` text NOT NULL,
	FOREIGN KEY (`study_id`) REFERENCES `studies`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
ALTER TABLE `studies` ADD `tags` text DEFAULT '[]' NOT NULL;--> statement-breakpoint
ALTER TABLE `studies` ADD `aside_since` text;