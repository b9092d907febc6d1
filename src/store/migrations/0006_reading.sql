ALTER TABLE `runs` ADD `headline` text;--> statement-breakpoint
ALTER TABLE `runs` ADD `corrections` text DEFAULT '[]' NOT NULL;--> statement-breakpoint
ALTER TABLE `runs` ADD `left_out` text;--> statement-breakpoint
UPDATE `runs` SET `headline` = CASE WHEN json_array_length(`result`, '$.steps') > 0 THEN json_set(`result`, '$.steps', json_array(json_set(json_extract(`result`, '$.steps[0]'), '$.read', NULL, '$.write', NULL, '$.targets', json_array(), '$.copy', NULL, '$.faults', json_array()))) ELSE `result` END WHERE `result` IS NOT NULL;
