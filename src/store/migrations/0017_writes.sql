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
--> statement-breakpoint
CREATE TRIGGER `parts_insert_counted` AFTER INSERT ON `parts` BEGIN
	INSERT INTO `writes` (`of`, `count`) SELECT 'bench', 1 WHERE true
	ON CONFLICT (`of`) DO UPDATE SET `count` = `count` + 1;
END;
--> statement-breakpoint
CREATE TRIGGER `parts_update_counted` AFTER UPDATE ON `parts` BEGIN
	INSERT INTO `writes` (`of`, `count`) SELECT 'bench', 1 WHERE true
	ON CONFLICT (`of`) DO UPDATE SET `count` = `count` + 1;
END;
--> statement-breakpoint
CREATE TRIGGER `parts_delete_counted` AFTER DELETE ON `parts` BEGIN
	INSERT INTO `writes` (`of`, `count`) SELECT 'bench', 1 WHERE true
	ON CONFLICT (`of`) DO UPDATE SET `count` = `count` + 1;
END;
--> statement-breakpoint
CREATE TRIGGER `hosts_insert_counted` AFTER INSERT ON `hosts` BEGIN
	INSERT INTO `writes` (`of`, `count`) SELECT 'bench', 1 WHERE true
	ON CONFLICT (`of`) DO UPDATE SET `count` = `count` + 1;
END;
--> statement-breakpoint
CREATE TRIGGER `hosts_update_counted` AFTER UPDATE ON `hosts` BEGIN
	INSERT INTO `writes` (`of`, `count`) SELECT 'bench', 1 WHERE true
	ON CONFLICT (`of`) DO UPDATE SET `count` = `count` + 1;
END;
--> statement-breakpoint
CREATE TRIGGER `hosts_delete_counted` AFTER DELETE ON `hosts` BEGIN
	INSERT INTO `writes` (`of`, `count`) SELECT 'bench', 1 WHERE true
	ON CONFLICT (`of`) DO UPDATE SET `count` = `count` + 1;
END;
--> statement-breakpoint
CREATE TRIGGER `networks_insert_counted` AFTER INSERT ON `networks` BEGIN
	INSERT INTO `writes` (`of`, `count`) SELECT 'bench', 1 WHERE true
	ON CONFLICT (`of`) DO UPDATE SET `count` = `count` + 1;
END;
--> statement-breakpoint
CREATE TRIGGER `networks_update_counted` AFTER UPDATE ON `networks` BEGIN
	INSERT INTO `writes` (`of`, `count`) SELECT 'bench', 1 WHERE true
	ON CONFLICT (`of`) DO UPDATE SET `count` = `count` + 1;
END;
--> statement-breakpoint
CREATE TRIGGER `networks_delete_counted` AFTER DELETE ON `networks` BEGIN
	INSERT INTO `writes` (`of`, `count`) SELECT 'bench', 1 WHERE true
	ON CONFLICT (`of`) DO UPDATE SET `count` = `count` + 1;
END;
--> statement-breakpoint
CREATE TRIGGER `machine_checks_insert_counted` AFTER INSERT ON `machine_checks` BEGIN
	INSERT INTO `writes` (`of`, `count`) SELECT 'bench', 1 WHERE true
	ON CONFLICT (`of`) DO UPDATE SET `count` = `count` + 1;
END;
--> statement-breakpoint
CREATE TRIGGER `machine_checks_update_counted` AFTER UPDATE ON `machine_checks` BEGIN
	INSERT INTO `writes` (`of`, `count`) SELECT 'bench', 1 WHERE true
	ON CONFLICT (`of`) DO UPDATE SET `count` = `count` + 1;
END;
--> statement-breakpoint
CREATE TRIGGER `machine_checks_delete_counted` AFTER DELETE ON `machine_checks` BEGIN
	INSERT INTO `writes` (`of`, `count`) SELECT 'bench', 1 WHERE true
	ON CONFLICT (`of`) DO UPDATE SET `count` = `count` + 1;
END;
--> statement-breakpoint
CREATE TRIGGER `own_modes_insert_counted` AFTER INSERT ON `own_modes` BEGIN
	INSERT INTO `writes` (`of`, `count`) SELECT 'bench', 1 WHERE true
	ON CONFLICT (`of`) DO UPDATE SET `count` = `count` + 1;
END;
--> statement-breakpoint
CREATE TRIGGER `own_modes_update_counted` AFTER UPDATE ON `own_modes` BEGIN
	INSERT INTO `writes` (`of`, `count`) SELECT 'bench', 1 WHERE true
	ON CONFLICT (`of`) DO UPDATE SET `count` = `count` + 1;
END;
--> statement-breakpoint
CREATE TRIGGER `own_modes_delete_counted` AFTER DELETE ON `own_modes` BEGIN
	INSERT INTO `writes` (`of`, `count`) SELECT 'bench', 1 WHERE true
	ON CONFLICT (`of`) DO UPDATE SET `count` = `count` + 1;
END;
--> statement-breakpoint
CREATE TRIGGER `settings_insert_counted` AFTER INSERT ON `settings` BEGIN
	INSERT INTO `writes` (`of`, `count`) SELECT 'bench', 1 WHERE true
	ON CONFLICT (`of`) DO UPDATE SET `count` = `count` + 1;
END;
--> statement-breakpoint
CREATE TRIGGER `settings_update_counted` AFTER UPDATE ON `settings` BEGIN
	INSERT INTO `writes` (`of`, `count`) SELECT 'bench', 1 WHERE true
	ON CONFLICT (`of`) DO UPDATE SET `count` = `count` + 1;
END;
--> statement-breakpoint
CREATE TRIGGER `settings_delete_counted` AFTER DELETE ON `settings` BEGIN
	INSERT INTO `writes` (`of`, `count`) SELECT 'bench', 1 WHERE true
	ON CONFLICT (`of`) DO UPDATE SET `count` = `count` + 1;
END;
--> statement-breakpoint
CREATE TRIGGER `studies_insert_counted` AFTER INSERT ON `studies` BEGIN
	INSERT INTO `writes` (`of`, `count`) VALUES (new.`id`, 1)
	ON CONFLICT (`of`) DO UPDATE SET `count` = `count` + 1;
END;
--> statement-breakpoint
CREATE TRIGGER `studies_update_counted` AFTER UPDATE ON `studies` BEGIN
	INSERT INTO `writes` (`of`, `count`) VALUES (new.`id`, 1)
	ON CONFLICT (`of`) DO UPDATE SET `count` = `count` + 1;
END;
--> statement-breakpoint
CREATE TRIGGER `studies_delete_counted` AFTER DELETE ON `studies` BEGIN
	INSERT INTO `writes` (`of`, `count`) VALUES (old.`id`, 1)
	ON CONFLICT (`of`) DO UPDATE SET `count` = `count` + 1;
END;
--> statement-breakpoint
CREATE TRIGGER `study_rigs_insert_counted` AFTER INSERT ON `study_rigs` BEGIN
	INSERT INTO `writes` (`of`, `count`) VALUES (new.`study_id`, 1)
	ON CONFLICT (`of`) DO UPDATE SET `count` = `count` + 1;
END;
--> statement-breakpoint
CREATE TRIGGER `study_rigs_update_counted` AFTER UPDATE ON `study_rigs` BEGIN
	INSERT INTO `writes` (`of`, `count`) VALUES (new.`study_id`, 1)
	ON CONFLICT (`of`) DO UPDATE SET `count` = `count` + 1;
END;
--> statement-breakpoint
CREATE TRIGGER `study_rigs_delete_counted` AFTER DELETE ON `study_rigs` BEGIN
	INSERT INTO `writes` (`of`, `count`) VALUES (old.`study_id`, 1)
	ON CONFLICT (`of`) DO UPDATE SET `count` = `count` + 1;
END;
--> statement-breakpoint
CREATE TRIGGER `measurements_insert_counted` AFTER INSERT ON `measurements` BEGIN
	INSERT INTO `writes` (`of`, `count`) VALUES (new.`study_id`, 1)
	ON CONFLICT (`of`) DO UPDATE SET `count` = `count` + 1;
END;
--> statement-breakpoint
CREATE TRIGGER `measurements_update_counted` AFTER UPDATE ON `measurements` BEGIN
	INSERT INTO `writes` (`of`, `count`) VALUES (new.`study_id`, 1)
	ON CONFLICT (`of`) DO UPDATE SET `count` = `count` + 1;
END;
--> statement-breakpoint
CREATE TRIGGER `measurements_delete_counted` AFTER DELETE ON `measurements` BEGIN
	INSERT INTO `writes` (`of`, `count`) VALUES (old.`study_id`, 1)
	ON CONFLICT (`of`) DO UPDATE SET `count` = `count` + 1;
END;
--> statement-breakpoint
CREATE TRIGGER `rigs_update_counted` AFTER UPDATE ON `rigs` BEGIN
	INSERT INTO `writes` (`of`, `count`) SELECT `study_id`, 1 FROM `study_rigs` WHERE `rig_id` = new.`id`
	ON CONFLICT (`of`) DO UPDATE SET `count` = `count` + 1;
END;
--> statement-breakpoint
CREATE TRIGGER `runs_insert_counted` AFTER INSERT ON `runs` BEGIN
	INSERT INTO `writes` (`of`, `count`) SELECT `study_id`, 1 FROM `measurements` WHERE `id` = new.`measurement_id`
	ON CONFLICT (`of`) DO UPDATE SET `count` = `count` + 1;
END;
--> statement-breakpoint
CREATE TRIGGER `runs_update_counted` AFTER UPDATE ON `runs` BEGIN
	INSERT INTO `writes` (`of`, `count`) SELECT `study_id`, 1 FROM `measurements` WHERE `id` = new.`measurement_id`
	ON CONFLICT (`of`) DO UPDATE SET `count` = `count` + 1;
END;
--> statement-breakpoint
CREATE TRIGGER `runs_delete_counted` AFTER DELETE ON `runs` BEGIN
	INSERT INTO `writes` (`of`, `count`) SELECT `study_id`, 1 FROM `measurements` WHERE `id` = old.`measurement_id`
	ON CONFLICT (`of`) DO UPDATE SET `count` = `count` + 1;
END;
