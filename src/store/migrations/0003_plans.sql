CREATE TABLE `plans` (
	`id` text PRIMARY KEY NOT NULL,
	`study_id` text NOT NULL,
	`plan` text NOT NULL,
	`steps` text NOT NULL,
	`state` text NOT NULL,
	`words` text NOT NULL,
	`plugged_rigs` text DEFAULT '[]' NOT NULL,
	`created_at` text NOT NULL,
	FOREIGN KEY (`study_id`) REFERENCES `studies`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE INDEX `plans_by_study` ON `plans` (`study_id`);--> statement-breakpoint
ALTER TABLE `measurements` ADD `warm_up` integer DEFAULT false NOT NULL;