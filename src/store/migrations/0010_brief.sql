DROP INDEX `runs_brief`;--> statement-breakpoint
ALTER TABLE `runs` ADD `brief` text;--> statement-breakpoint
UPDATE `runs` SET `brief` = json_object('version', 2,
  'meanMBps', json_extract(`result`, '$.meanMBps'),
  'iops', coalesce(json_extract(`result`, '$.iops'), CASE WHEN json_extract(`result`, '$.ms') > 0 THEN json_extract(`result`, '$.requests') / (json_extract(`result`, '$.ms') / 1000.0) ELSE 0 END),
  'bytes', json_extract(`result`, '$.bytes'), 'ms', json_extract(`result`, '$.ms'), 'requests', json_extract(`result`, '$.requests'),
  'latencyUs', json_set(json_extract(`result`, '$.latencyUs'), '$.p9999', json_extract(`result`, '$.latencyUs.p9999')),
  'deviceBytes', json_extract(`result`, '$.deviceBytes'), 'processorUsPerRequest', json_extract(`result`, '$.processorUsPerRequest'), 'busiestCore', json_extract(`result`, '$.busiestCore'),
  'fit', json(coalesce(json_extract(`result`, '$.fit'), 'null')),
  'first', CASE WHEN json_array_length(`result`, '$.steps') > 0 THEN json_object('meanMBps', coalesce(json_extract(`result`, '$.steps[0].meanMBps'), json_extract(`result`, '$.meanMBps')), 'burstMBps', coalesce(json_extract(`result`, '$.steps[0].burstMBps'), json_extract(`result`, '$.meanMBps')), 'sustainedMBps', coalesce(json_extract(`result`, '$.steps[0].sustainedMBps'), json_extract(`result`, '$.meanMBps')), 'edgeBytes', json_extract(`result`, '$.steps[0].edgeBytes')) ELSE json('null') END,
  'waited', json(coalesce((SELECT json_object('fromMs', json_extract(value, '$.copy.waitedForFromMs'), 'toMs', json_extract(value, '$.copy.waitedForToMs')) FROM json_each(`result`, '$.steps') WHERE json_type(value, '$.copy') = 'object' LIMIT 1), 'null')))
WHERE `result` IS NOT NULL;--> statement-breakpoint
UPDATE `runs` SET `brief` = json_set(`brief`, '$.startCelsius', json_extract(`result`, '$.startCelsius')) WHERE json_extract(`result`, '$.startCelsius') IS NOT NULL;--> statement-breakpoint
UPDATE `runs` SET `brief` = json_set(`brief`, '$.first.interrupted', json(CASE WHEN json_extract(`result`, '$.steps[0].interrupted') THEN 'true' ELSE 'false' END)) WHERE json_extract(`result`, '$.steps[0].interrupted') IS NOT NULL;--> statement-breakpoint
ALTER TABLE `runs` DROP COLUMN `headline`;--> statement-breakpoint
CREATE INDEX `runs_brief` ON `runs` (`measurement_id`,`repeat`,`id`,`status`,`brief`,`errors`,`corrections`,`left_out`);
