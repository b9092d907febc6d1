CREATE TABLE `machine_checks` (
	`machine` text NOT NULL,
	`at` text NOT NULL,
	`check` text NOT NULL,
	PRIMARY KEY(`machine`, `at`)
);
