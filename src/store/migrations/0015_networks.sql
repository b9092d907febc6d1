CREATE TABLE `networks` (
	`from` text NOT NULL,
	`to` text NOT NULL,
	`at` text NOT NULL,
	`figures` text NOT NULL,
	PRIMARY KEY(`from`, `to`, `at`)
);
