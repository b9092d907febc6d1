CREATE TABLE `issues` (
	`study_id` text NOT NULL,
	`number` integer NOT NULL,
	`title` text NOT NULL,
	`issued_at` text NOT NULL,
	`page` blob NOT NULL,
	`archive` blob NOT NULL,
	`stand` text NOT NULL,
	PRIMARY KEY(`study_id`, `number`)
);
--> statement-breakpoint
CREATE TABLE `photos` (
	`id` text PRIMARY KEY NOT NULL,
	`type` text NOT NULL,
	`width` integer NOT NULL,
	`height` integer NOT NULL,
	`bytes` blob NOT NULL
);
--> statement-breakpoint
ALTER TABLE `studies` ADD `report` text;