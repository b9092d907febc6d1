CREATE TABLE `study_briefs` (
	`study_id` text NOT NULL,
	`unit` text NOT NULL,
	`version` text NOT NULL,
	`brief` text NOT NULL,
	PRIMARY KEY(`study_id`, `unit`),
	FOREIGN KEY (`study_id`) REFERENCES `studies`(`id`) ON UPDATE no action ON DELETE cascade
);
--> statement-breakpoint
CREATE TABLE `writes` (
	`of` text PRIMARY KEY NOT NULL,
	`count` integer NOT NULL
);
