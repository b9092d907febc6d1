CREATE TABLE `measurements` (
	`id` text PRIMARY KEY NOT NULL,
	`study_id` text NOT NULL,
	`rig_id` text NOT NULL,
	`drill` text NOT NULL,
	`target` text NOT NULL,
	`status` text NOT NULL,
	`reason` text,
	`rig` text NOT NULL,
	`conditions` text,
	`created_at` text NOT NULL,
	`ended_at` text,
	FOREIGN KEY (`study_id`) REFERENCES `studies`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`rig_id`) REFERENCES `rigs`(`id`) ON UPDATE no action ON DELETE no action
);
--> statement-breakpoint
CREATE TABLE `parts` (
	`id` text PRIMARY KEY NOT NULL,
	`kind` text NOT NULL,
	`name` text NOT NULL,
	`spec` text NOT NULL,
	`created_at` text NOT NULL,
	`retired_at` text
);
--> statement-breakpoint
CREATE TABLE `rigs` (
	`id` text PRIMARY KEY NOT NULL,
	`name` text NOT NULL,
	`part_ids` text NOT NULL,
	`transport` text,
	`file_system` text DEFAULT '' NOT NULL,
	`created_at` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `runs` (
	`id` text PRIMARY KEY NOT NULL,
	`measurement_id` text NOT NULL,
	`repeat` integer NOT NULL,
	`status` text NOT NULL,
	`started_at` text NOT NULL,
	`ended_at` text,
	`result` text,
	FOREIGN KEY (`measurement_id`) REFERENCES `measurements`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE INDEX `runs_by_measurement` ON `runs` (`measurement_id`);--> statement-breakpoint
CREATE TABLE `samples` (
	`run_id` text NOT NULL,
	`ms` real NOT NULL,
	`bytes` integer NOT NULL,
	PRIMARY KEY(`run_id`, `ms`),
	FOREIGN KEY (`run_id`) REFERENCES `runs`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE TABLE `studies` (
	`id` text PRIMARY KEY NOT NULL,
	`title` text NOT NULL,
	`tolerance` real NOT NULL,
	`smallest_effect` real NOT NULL,
	`simulated` integer DEFAULT false NOT NULL,
	`created_at` text NOT NULL
);
--> statement-breakpoint
CREATE TABLE `study_rigs` (
	`study_id` text NOT NULL,
	`rig_id` text NOT NULL,
	`position` integer NOT NULL,
	PRIMARY KEY(`study_id`, `rig_id`),
	FOREIGN KEY (`study_id`) REFERENCES `studies`(`id`) ON UPDATE no action ON DELETE cascade,
	FOREIGN KEY (`rig_id`) REFERENCES `rigs`(`id`) ON UPDATE no action ON DELETE no action
);
