CREATE TABLE `study_series` (
	`study_id` text PRIMARY KEY NOT NULL,
	`version` text NOT NULL,
	`series` text NOT NULL,
	FOREIGN KEY (`study_id`) REFERENCES `studies`(`id`) ON UPDATE no action ON DELETE cascade
);
