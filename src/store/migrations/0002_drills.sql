CREATE TABLE `moments` (
	`id` integer PRIMARY KEY AUTOINCREMENT NOT NULL,
	`run_id` text NOT NULL,
	`event` text,
	`reading` text,
	FOREIGN KEY (`run_id`) REFERENCES `runs`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE INDEX `moments_by_run` ON `moments` (`run_id`);--> statement-breakpoint
CREATE TABLE `own_drills` (
	`id` text PRIMARY KEY NOT NULL,
	`drill` text NOT NULL,
	`created_at` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `steps` (
	`run_id` text NOT NULL,
	`step` integer NOT NULL,
	`result` text NOT NULL,
	PRIMARY KEY(`run_id`, `step`),
	FOREIGN KEY (`run_id`) REFERENCES `runs`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE TABLE `traces` (
	`run_id` text NOT NULL,
	`seq` integer NOT NULL,
	`packed` blob NOT NULL,
	PRIMARY KEY(`run_id`, `seq`),
	FOREIGN KEY (`run_id`) REFERENCES `runs`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
ALTER TABLE `runs` ADD `errors` text DEFAULT '[]' NOT NULL;