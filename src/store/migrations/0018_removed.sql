CREATE TABLE `removed` (
	`id` text PRIMARY KEY NOT NULL,
	`kind` text NOT NULL,
	`of` text NOT NULL,
	`study_id` text,
	`title` text NOT NULL,
	`details` text NOT NULL,
	`kept` text,
	`at` text NOT NULL
);
--> statement-breakpoint
CREATE INDEX `removed_of` ON `removed` (`kind`,`of`);
--> statement-breakpoint
INSERT INTO `removed` (`id`, `kind`, `of`, `study_id`, `title`, `details`, `kept`, `at`)
	SELECT 'study ' || `id`, 'study', `id`, NULL, `title`, '', NULL, `removed_at` FROM `studies` WHERE `removed_at` IS NOT NULL;
--> statement-breakpoint
INSERT INTO `removed` (`id`, `kind`, `of`, `study_id`, `title`, `details`, `kept`, `at`)
	SELECT 'measurement ' || `id`, 'measurement', `id`, `study_id`, 'Runs through ' || json_extract(`rig`, '$.name'), '', NULL, `removed_at` FROM `measurements` WHERE `removed_at` IS NOT NULL;
