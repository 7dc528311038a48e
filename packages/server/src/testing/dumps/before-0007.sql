CREATE TABLE `account_link` (
  `digest` char(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  `user_id` int(10) unsigned NOT NULL,
  `purpose` varchar(12) NOT NULL,
  `expires_at` datetime(3) NOT NULL,
  PRIMARY KEY (`digest`),
  KEY `account_link_user_id_foreign` (`user_id`),
  KEY `account_link_expires_at_index` (`expires_at`),
  CONSTRAINT `account_link_user_id_foreign` FOREIGN KEY (`user_id`) REFERENCES `user` (`id`) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
CREATE TABLE `api_key` (
  `id` int(10) unsigned NOT NULL AUTO_INCREMENT,
  `name` varchar(120) NOT NULL,
  `digest` varchar(64) NOT NULL,
  `created_at` datetime(3) NOT NULL,
  `used_at` datetime(3) DEFAULT NULL,
  `event_id` int(10) unsigned DEFAULT NULL,
  `expires_at` datetime(3) DEFAULT NULL,
  PRIMARY KEY (`id`),
  UNIQUE KEY `api_key_digest_unique` (`digest`),
  KEY `api_key_event_id_foreign` (`event_id`),
  CONSTRAINT `api_key_event_id_foreign` FOREIGN KEY (`event_id`) REFERENCES `event` (`id`) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
CREATE TABLE `asked_mail` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `address` varchar(254) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  `event_id` int(10) unsigned NOT NULL,
  `at` datetime(3) NOT NULL,
  PRIMARY KEY (`id`),
  KEY `asked_mail_at_index` (`at`),
  KEY `asked_mail_address_at_index` (`address`,`at`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
CREATE TABLE `audit` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `at` datetime(3) NOT NULL,
  `by_name` varchar(120) NOT NULL,
  `action` varchar(60) NOT NULL,
  `what` varchar(500) NOT NULL,
  `kind` varchar(20) NOT NULL DEFAULT '',
  `member_id` int(10) unsigned DEFAULT NULL,
  `address` varchar(45) NOT NULL DEFAULT '',
  PRIMARY KEY (`id`),
  KEY `audit_kind_id_index` (`kind`,`id`),
  KEY `audit_member_id_id_index` (`member_id`,`id`),
  KEY `audit_member_id_kind_id_index` (`member_id`,`kind`,`id`),
  KEY `audit_at_index` (`at`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
CREATE TABLE `clock` (
  `id` int(11) NOT NULL,
  `offset_ms` bigint(20) NOT NULL,
  PRIMARY KEY (`id`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
CREATE TABLE `consent` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `subscriber_id` bigint(20) unsigned NOT NULL,
  `channel` varchar(5) NOT NULL,
  `is_given` tinyint(1) NOT NULL,
  `how` varchar(300) NOT NULL,
  `by_name` varchar(120) NOT NULL,
  `at` datetime(3) NOT NULL,
  PRIMARY KEY (`id`),
  KEY `consent_subscriber_id_id_index` (`subscriber_id`,`id`),
  CONSTRAINT `consent_subscriber_id_foreign` FOREIGN KEY (`subscriber_id`) REFERENCES `subscriber` (`id`) ON DELETE CASCADE
) ENGINE=InnoDB AUTO_INCREMENT=2 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
INSERT INTO `consent` (`id`, `subscriber_id`, `channel`, `is_given`, `how`, `by_name`, `at`) VALUES (1,1,'email',1,'form','x','2026-01-01 00:00:00.000');
CREATE TABLE `cue` (
  `id` int(10) unsigned NOT NULL AUTO_INCREMENT,
  `event_id` int(10) unsigned NOT NULL,
  `name` varchar(120) NOT NULL,
  `channel` varchar(5) NOT NULL,
  `moment` longtext CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL CHECK (json_valid(`moment`)),
  `audience` longtext CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL CHECK (json_valid(`audience`)),
  `subject` varchar(500) NOT NULL,
  `body` text NOT NULL,
  `is_draft` tinyint(1) NOT NULL,
  `is_retired` tinyint(1) NOT NULL DEFAULT 0,
  PRIMARY KEY (`id`),
  KEY `cue_event_id_foreign` (`event_id`),
  CONSTRAINT `cue_event_id_foreign` FOREIGN KEY (`event_id`) REFERENCES `event` (`id`) ON DELETE CASCADE
) ENGINE=InnoDB AUTO_INCREMENT=3 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
INSERT INTO `cue` (`id`, `event_id`, `name`, `channel`, `moment`, `audience`, `subject`, `body`, `is_draft`, `is_retired`) VALUES (1,1,'Tomorrow','email','{\"kind\":\"relative\",\"amount\":1,\"unit\":\"days\",\"direction\":\"before\",\"anchor\":\"start\",\"at\":null}','{\"invitees\":[\"accepted\"],\"lists\":[1],\"exceptLists\":[2],\"exceptReplies\":[],\"topics\":null}','s','b',0,0);
INSERT INTO `cue` (`id`, `event_id`, `name`, `channel`, `moment`, `audience`, `subject`, `body`, `is_draft`, `is_retired`) VALUES (2,1,'Thanks','email','{\"kind\":\"relative\",\"amount\":1,\"unit\":\"days\",\"direction\":\"before\",\"anchor\":\"start\",\"at\":null}','{\"invitees\":[\"accepted\"],\"lists\":[],\"exceptLists\":[],\"exceptReplies\":[],\"topics\":null}','s','b',0,0);
CREATE TABLE `delivery` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `firing_id` bigint(20) unsigned NOT NULL,
  `subscriber_id` bigint(20) unsigned NOT NULL,
  `channel` varchar(5) NOT NULL,
  `state` varchar(10) NOT NULL,
  `attempts` tinyint(3) unsigned NOT NULL DEFAULT 0,
  `next_at` datetime(3) NOT NULL,
  `lease` varchar(40) DEFAULT NULL,
  `answer` varchar(500) NOT NULL DEFAULT '',
  `sent_at` datetime(3) DEFAULT NULL,
  `said_version` int(11) DEFAULT NULL,
  `may_have_left` tinyint(1) NOT NULL DEFAULT 0,
  PRIMARY KEY (`id`),
  UNIQUE KEY `delivery_firing_id_subscriber_id_channel_unique` (`firing_id`,`subscriber_id`,`channel`),
  KEY `delivery_firing_id_state_index` (`firing_id`,`state`),
  KEY `delivery_channel_state_next_at_index` (`channel`,`state`,`next_at`),
  KEY `delivery_subscriber_id_index` (`subscriber_id`),
  CONSTRAINT `delivery_firing_id_foreign` FOREIGN KEY (`firing_id`) REFERENCES `firing` (`id`) ON DELETE CASCADE
) ENGINE=InnoDB AUTO_INCREMENT=6 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
INSERT INTO `delivery` (`id`, `firing_id`, `subscriber_id`, `channel`, `state`, `attempts`, `next_at`, `lease`, `answer`, `sent_at`, `said_version`, `may_have_left`) VALUES (1,6,1,'email','sent',0,'2026-01-01 00:00:00.000',NULL,'',NULL,NULL,0);
INSERT INTO `delivery` (`id`, `firing_id`, `subscriber_id`, `channel`, `state`, `attempts`, `next_at`, `lease`, `answer`, `sent_at`, `said_version`, `may_have_left`) VALUES (2,6,2,'email','failed',0,'2026-01-01 00:00:00.000',NULL,'',NULL,NULL,0);
INSERT INTO `delivery` (`id`, `firing_id`, `subscriber_id`, `channel`, `state`, `attempts`, `next_at`, `lease`, `answer`, `sent_at`, `said_version`, `may_have_left`) VALUES (3,6,3,'email','skipped',0,'2026-01-01 00:00:00.000',NULL,'',NULL,NULL,0);
INSERT INTO `delivery` (`id`, `firing_id`, `subscriber_id`, `channel`, `state`, `attempts`, `next_at`, `lease`, `answer`, `sent_at`, `said_version`, `may_have_left`) VALUES (4,6,4,'email','sending',0,'2026-01-01 00:00:00.000','dead','',NULL,NULL,0);
INSERT INTO `delivery` (`id`, `firing_id`, `subscriber_id`, `channel`, `state`, `attempts`, `next_at`, `lease`, `answer`, `sent_at`, `said_version`, `may_have_left`) VALUES (5,7,1,'email','delivered',0,'2026-01-01 00:00:00.000',NULL,'',NULL,NULL,0);
CREATE TABLE `digest` (
  `id` int(10) unsigned NOT NULL AUTO_INCREMENT,
  `fields` longtext CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL CHECK (json_valid(`fields`)),
  PRIMARY KEY (`id`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
CREATE TABLE `event` (
  `id` int(10) unsigned NOT NULL AUTO_INCREMENT,
  `public_key` varchar(24) NOT NULL,
  `uid` varchar(120) NOT NULL,
  `status` varchar(20) NOT NULL,
  `version` int(11) NOT NULL,
  `starts_at` datetime(3) NOT NULL,
  `ends_at` datetime(3) NOT NULL,
  `repeats` tinyint(1) NOT NULL DEFAULT 0,
  `last_at` datetime(3) DEFAULT NULL,
  `planned_until` datetime(3) DEFAULT NULL,
  `split_from` int(10) unsigned DEFAULT NULL,
  `reach` varchar(10) NOT NULL DEFAULT 'invited',
  PRIMARY KEY (`id`),
  UNIQUE KEY `event_public_key_unique` (`public_key`),
  UNIQUE KEY `event_uid_unique` (`uid`),
  KEY `event_starts_at_index` (`starts_at`),
  KEY `event_repeats_planned_until_index` (`repeats`,`planned_until`)
) ENGINE=InnoDB AUTO_INCREMENT=2 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
INSERT INTO `event` (`id`, `public_key`, `uid`, `status`, `version`, `starts_at`, `ends_at`, `repeats`, `last_at`, `planned_until`, `split_from`, `reach`) VALUES (1,'k1','u1','published',2,'2031-06-18 18:30:00.000','2031-06-18 21:00:00.000',0,'2031-06-18 21:00:00.000',NULL,NULL,'public');
CREATE TABLE `event_version` (
  `event_id` int(10) unsigned NOT NULL,
  `number` int(11) NOT NULL,
  `sequence` int(11) NOT NULL,
  `facts` longtext CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL CHECK (json_valid(`facts`)),
  `called_off` tinyint(1) NOT NULL,
  `created_at` datetime(3) NOT NULL,
  `by_name` varchar(120) NOT NULL,
  PRIMARY KEY (`event_id`,`number`),
  CONSTRAINT `event_version_event_id_foreign` FOREIGN KEY (`event_id`) REFERENCES `event` (`id`) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
INSERT INTO `event_version` (`event_id`, `number`, `sequence`, `facts`, `called_off`, `created_at`, `by_name`) VALUES (1,1,0,'{\"title\":\"Dome night\",\"description\":\"\",\"zone\":\"Europe/Lisbon\",\"endZone\":\"\",\"span\":{\"kind\":\"timed\",\"start\":\"2031-06-18T19:30\",\"end\":\"2031-06-18T22:00\"},\"series\":null,\"venue\":\"Dome 1\",\"joinLink\":\"\",\"topics\":[],\"entry\":{\"alarmsMinutes\":[],\"asksReply\":true,\"showsGuests\":false,\"isPrivate\":false,\"isBusy\":true,\"categories\":[],\"colour\":\"\",\"imageUrl\":\"\",\"position\":null},\"isPersonal\":false,\"registration\":null}',0,'2026-01-01 00:00:00.000','x');
INSERT INTO `event_version` (`event_id`, `number`, `sequence`, `facts`, `called_off`, `created_at`, `by_name`) VALUES (1,2,1,'{\"title\":\"Dome night\",\"description\":\"\",\"zone\":\"Europe/Lisbon\",\"endZone\":\"\",\"span\":{\"kind\":\"timed\",\"start\":\"2031-06-18T19:30\",\"end\":\"2031-06-18T22:00\"},\"series\":null,\"venue\":\"Dome 1\",\"joinLink\":\"\",\"topics\":[],\"entry\":{\"alarmsMinutes\":[],\"asksReply\":true,\"showsGuests\":false,\"isPrivate\":false,\"isBusy\":true,\"categories\":[],\"colour\":\"\",\"imageUrl\":\"\",\"position\":null},\"isPersonal\":false,\"registration\":{\"places\":40,\"closesMinutes\":60,\"confirms\":true}}',0,'2026-01-01 00:00:00.000','x');
CREATE TABLE `fault` (
  `kind` varchar(20) NOT NULL,
  `ref` varchar(60) NOT NULL,
  `text` varchar(500) NOT NULL,
  `first_at` datetime(3) NOT NULL,
  `seen_at` datetime(3) NOT NULL,
  PRIMARY KEY (`kind`,`ref`),
  KEY `fault_seen_at_index` (`seen_at`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
CREATE TABLE `firing` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `kind` varchar(12) NOT NULL,
  `event_id` int(10) unsigned DEFAULT NULL,
  `cue_id` int(10) unsigned DEFAULT NULL,
  `digest_id` int(10) unsigned DEFAULT NULL,
  `occurrence` varchar(20) NOT NULL DEFAULT '',
  `channel` varchar(5) NOT NULL,
  `due_at` datetime(3) NOT NULL,
  `state` varchar(10) NOT NULL,
  `note` varchar(500) NOT NULL DEFAULT '',
  `content` longtext CHARACTER SET utf8mb4 COLLATE utf8mb4_bin DEFAULT NULL CHECK (json_valid(`content`)),
  `is_expanded` tinyint(1) NOT NULL DEFAULT 0,
  `planned` int(11) NOT NULL DEFAULT 0,
  `sent` int(11) NOT NULL DEFAULT 0,
  `failed` int(11) NOT NULL DEFAULT 0,
  PRIMARY KEY (`id`),
  UNIQUE KEY `firing_cue_id_occurrence_unique` (`cue_id`,`occurrence`),
  UNIQUE KEY `firing_digest_id_due_at_unique` (`digest_id`,`due_at`),
  KEY `firing_event_id_foreign` (`event_id`),
  KEY `firing_state_due_at_index` (`state`,`due_at`),
  KEY `firing_due_at_index` (`due_at`),
  CONSTRAINT `firing_cue_id_foreign` FOREIGN KEY (`cue_id`) REFERENCES `cue` (`id`) ON DELETE CASCADE,
  CONSTRAINT `firing_digest_id_foreign` FOREIGN KEY (`digest_id`) REFERENCES `digest` (`id`) ON DELETE CASCADE,
  CONSTRAINT `firing_event_id_foreign` FOREIGN KEY (`event_id`) REFERENCES `event` (`id`) ON DELETE CASCADE
) ENGINE=InnoDB AUTO_INCREMENT=8 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
INSERT INTO `firing` (`id`, `kind`, `event_id`, `cue_id`, `digest_id`, `occurrence`, `channel`, `due_at`, `state`, `note`, `content`, `is_expanded`, `planned`, `sent`, `failed`) VALUES (1,'cue',1,1,NULL,'o1','email','2031-06-17 18:30:00.000','set','',NULL,0,0,0,0);
INSERT INTO `firing` (`id`, `kind`, `event_id`, `cue_id`, `digest_id`, `occurrence`, `channel`, `due_at`, `state`, `note`, `content`, `is_expanded`, `planned`, `sent`, `failed`) VALUES (2,'cue',1,1,NULL,'o2','email','2031-06-17 18:30:00.000','stopped','Stopped by Marta Vilhena.',NULL,0,0,0,0);
INSERT INTO `firing` (`id`, `kind`, `event_id`, `cue_id`, `digest_id`, `occurrence`, `channel`, `due_at`, `state`, `note`, `content`, `is_expanded`, `planned`, `sent`, `failed`) VALUES (3,'cue',1,1,NULL,'o3','email','2031-06-17 18:30:00.000','stopped','This date was called off.',NULL,0,0,0,0);
INSERT INTO `firing` (`id`, `kind`, `event_id`, `cue_id`, `digest_id`, `occurrence`, `channel`, `due_at`, `state`, `note`, `content`, `is_expanded`, `planned`, `sent`, `failed`) VALUES (4,'cue',1,1,NULL,'o4','email','2031-06-17 18:30:00.000','missed','No worker was up at its moment, and it is more than an hour late.',NULL,0,0,0,0);
INSERT INTO `firing` (`id`, `kind`, `event_id`, `cue_id`, `digest_id`, `occurrence`, `channel`, `due_at`, `state`, `note`, `content`, `is_expanded`, `planned`, `sent`, `failed`) VALUES (5,'cue',1,1,NULL,'o5','email','2031-06-17 18:30:00.000','done','Nobody was to get it.',NULL,1,0,0,0);
INSERT INTO `firing` (`id`, `kind`, `event_id`, `cue_id`, `digest_id`, `occurrence`, `channel`, `due_at`, `state`, `note`, `content`, `is_expanded`, `planned`, `sent`, `failed`) VALUES (6,'notice',1,NULL,NULL,'','email','2031-06-17 18:30:00.000','sending','','{\"kind\":\"notice\",\"method\":\"REQUEST\",\"subject\":\"Moved: {{event.title}}\",\"body\":\"Dear \\\"you\\\",\\n\\nsee {{link.event}} — é\",\"version\":2,\"stampMs\":5}',1,4,0,0);
INSERT INTO `firing` (`id`, `kind`, `event_id`, `cue_id`, `digest_id`, `occurrence`, `channel`, `due_at`, `state`, `note`, `content`, `is_expanded`, `planned`, `sent`, `failed`) VALUES (7,'answer',1,NULL,NULL,'','email','2031-06-17 18:30:00.000','done','',NULL,1,1,1,0);
CREATE TABLE `health` (
  `part` varchar(20) NOT NULL,
  `reporter` varchar(60) NOT NULL,
  `is_ok` tinyint(1) NOT NULL,
  `text` varchar(500) NOT NULL,
  `seen_at` datetime(3) NOT NULL,
  PRIMARY KEY (`part`,`reporter`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
CREATE TABLE `imported` (
  `foreign_uid` varchar(255) NOT NULL,
  `watch_id` int(10) unsigned NOT NULL DEFAULT 0,
  `event_id` int(10) unsigned NOT NULL,
  `digest` varchar(64) NOT NULL,
  PRIMARY KEY (`watch_id`,`foreign_uid`),
  KEY `imported_event_id_foreign` (`event_id`),
  CONSTRAINT `imported_event_id_foreign` FOREIGN KEY (`event_id`) REFERENCES `event` (`id`) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
CREATE TABLE `invitee` (
  `event_id` int(10) unsigned NOT NULL,
  `subscriber_id` bigint(20) unsigned NOT NULL,
  `channel` varchar(5) NOT NULL,
  `reply` varchar(12) NOT NULL,
  `reply_sequence` int(11) DEFAULT NULL,
  `reply_stamp` datetime(3) DEFAULT NULL,
  `replied_at` datetime(3) DEFAULT NULL,
  `comment` varchar(500) NOT NULL DEFAULT '',
  `invited_at` datetime(3) DEFAULT NULL,
  `holds_version` int(11) DEFAULT NULL,
  `delegated_to` varchar(254) NOT NULL DEFAULT '',
  `is_by_date` tinyint(1) NOT NULL DEFAULT 0,
  PRIMARY KEY (`event_id`,`subscriber_id`),
  KEY `invitee_event_id_reply_index` (`event_id`,`reply`),
  KEY `invitee_event_id_holds_version_index` (`event_id`,`holds_version`),
  KEY `invitee_subscriber_id_index` (`subscriber_id`),
  CONSTRAINT `invitee_event_id_foreign` FOREIGN KEY (`event_id`) REFERENCES `event` (`id`) ON DELETE CASCADE,
  CONSTRAINT `invitee_subscriber_id_foreign` FOREIGN KEY (`subscriber_id`) REFERENCES `subscriber` (`id`) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
INSERT INTO `invitee` (`event_id`, `subscriber_id`, `channel`, `reply`, `reply_sequence`, `reply_stamp`, `replied_at`, `comment`, `invited_at`, `holds_version`, `delegated_to`, `is_by_date`) VALUES (1,1,'email','accepted',NULL,NULL,NULL,'','2026-01-02 00:00:00.000',2,'',0);
INSERT INTO `invitee` (`event_id`, `subscriber_id`, `channel`, `reply`, `reply_sequence`, `reply_stamp`, `replied_at`, `comment`, `invited_at`, `holds_version`, `delegated_to`, `is_by_date`) VALUES (1,2,'email','needs-action',NULL,NULL,NULL,'','2026-01-02 00:00:00.000',2,'',0);
INSERT INTO `invitee` (`event_id`, `subscriber_id`, `channel`, `reply`, `reply_sequence`, `reply_stamp`, `replied_at`, `comment`, `invited_at`, `holds_version`, `delegated_to`, `is_by_date`) VALUES (1,3,'email','needs-action',NULL,NULL,NULL,'','2026-01-02 00:00:00.000',1,'',0);
CREATE TABLE `invitee_occurrence` (
  `event_id` int(10) unsigned NOT NULL,
  `subscriber_id` bigint(20) unsigned NOT NULL,
  `occurrence` varchar(20) NOT NULL,
  `reply` varchar(12) DEFAULT NULL,
  `reply_sequence` int(11) DEFAULT NULL,
  `reply_stamp` datetime(3) DEFAULT NULL,
  `replied_at` datetime(3) DEFAULT NULL,
  `comment` varchar(500) NOT NULL DEFAULT '',
  `attended` tinyint(1) DEFAULT NULL,
  `gone_in` int(11) DEFAULT NULL,
  PRIMARY KEY (`event_id`,`subscriber_id`,`occurrence`),
  KEY `invitee_occurrence_subscriber_id_foreign` (`subscriber_id`),
  KEY `invitee_occurrence_event_id_occurrence_reply_index` (`event_id`,`occurrence`,`reply`),
  CONSTRAINT `invitee_occurrence_event_id_foreign` FOREIGN KEY (`event_id`) REFERENCES `event` (`id`) ON DELETE CASCADE,
  CONSTRAINT `invitee_occurrence_subscriber_id_foreign` FOREIGN KEY (`subscriber_id`) REFERENCES `subscriber` (`id`) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
CREATE TABLE `knex_migrations` (
  `id` int(10) unsigned NOT NULL AUTO_INCREMENT,
  `name` varchar(255) DEFAULT NULL,
  `batch` int(11) DEFAULT NULL,
  `migration_time` timestamp NULL DEFAULT NULL,
  PRIMARY KEY (`id`)
) ENGINE=InnoDB AUTO_INCREMENT=7 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
INSERT INTO `knex_migrations` (`id`, `name`, `batch`, `migration_time`) VALUES (1,'0001-foundation',1,'2026-11-26 20:18:34');
INSERT INTO `knex_migrations` (`id`, `name`, `batch`, `migration_time`) VALUES (2,'0002-series',1,'2026-11-26 20:18:34');
INSERT INTO `knex_migrations` (`id`, `name`, `batch`, `migration_time`) VALUES (3,'0003-registration',1,'2026-11-26 20:18:34');
INSERT INTO `knex_migrations` (`id`, `name`, `batch`, `migration_time`) VALUES (4,'0004-sound',1,'2026-11-26 20:18:34');
INSERT INTO `knex_migrations` (`id`, `name`, `batch`, `migration_time`) VALUES (5,'0005-accounts',1,'2026-11-26 20:18:34');
INSERT INTO `knex_migrations` (`id`, `name`, `batch`, `migration_time`) VALUES (6,'0006-sizes',1,'2026-11-26 20:18:34');
CREATE TABLE `knex_migrations_lock` (
  `index` int(10) unsigned NOT NULL AUTO_INCREMENT,
  `is_locked` int(11) DEFAULT NULL,
  PRIMARY KEY (`index`)
) ENGINE=InnoDB AUTO_INCREMENT=2 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
INSERT INTO `knex_migrations_lock` (`index`, `is_locked`) VALUES (1,0);
CREATE TABLE `letter` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `event_id` int(10) unsigned DEFAULT NULL,
  `subscriber_id` bigint(20) unsigned DEFAULT NULL,
  `received_at` datetime(3) NOT NULL,
  `from_address` varchar(254) NOT NULL,
  `to_address` varchar(254) NOT NULL,
  `subject` varchar(300) NOT NULL,
  `text` text NOT NULL,
  `is_open` tinyint(1) NOT NULL DEFAULT 1,
  PRIMARY KEY (`id`),
  KEY `letter_event_id_index` (`event_id`),
  KEY `letter_is_open_id_index` (`is_open`,`id`),
  KEY `letter_received_at_index` (`received_at`),
  KEY `letter_from_address_received_at_index` (`from_address`,`received_at`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
CREATE TABLE `list` (
  `id` int(10) unsigned NOT NULL AUTO_INCREMENT,
  `name` varchar(120) NOT NULL,
  `size` int(10) unsigned NOT NULL DEFAULT 0,
  PRIMARY KEY (`id`),
  UNIQUE KEY `list_name_unique` (`name`)
) ENGINE=InnoDB AUTO_INCREMENT=3 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
INSERT INTO `list` (`id`, `name`, `size`) VALUES (1,'Everybody',3);
INSERT INTO `list` (`id`, `name`, `size`) VALUES (2,'Nobody',0);
CREATE TABLE `list_import` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `list_id` int(10) unsigned NOT NULL,
  `by_name` varchar(120) NOT NULL,
  `state` varchar(10) NOT NULL,
  `started_at` datetime(3) NOT NULL,
  `alive_until` datetime(3) NOT NULL,
  `total` int(11) NOT NULL,
  `position` int(11) NOT NULL DEFAULT 0,
  `added` int(11) NOT NULL DEFAULT 0,
  `already` int(11) NOT NULL DEFAULT 0,
  `people` longtext DEFAULT NULL,
  PRIMARY KEY (`id`),
  KEY `list_import_list_id_foreign` (`list_id`),
  KEY `list_import_state_alive_until_index` (`state`,`alive_until`),
  KEY `list_import_started_at_index` (`started_at`),
  CONSTRAINT `list_import_list_id_foreign` FOREIGN KEY (`list_id`) REFERENCES `list` (`id`) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
CREATE TABLE `list_import_member` (
  `import_id` bigint(20) unsigned NOT NULL,
  `subscriber_id` bigint(20) unsigned NOT NULL,
  `is_new_person` tinyint(1) NOT NULL,
  PRIMARY KEY (`import_id`,`subscriber_id`),
  CONSTRAINT `list_import_member_import_id_foreign` FOREIGN KEY (`import_id`) REFERENCES `list_import` (`id`) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
CREATE TABLE `list_member` (
  `list_id` int(10) unsigned NOT NULL,
  `subscriber_id` bigint(20) unsigned NOT NULL,
  PRIMARY KEY (`list_id`,`subscriber_id`),
  KEY `list_member_subscriber_id_index` (`subscriber_id`),
  CONSTRAINT `list_member_list_id_foreign` FOREIGN KEY (`list_id`) REFERENCES `list` (`id`) ON DELETE CASCADE,
  CONSTRAINT `list_member_subscriber_id_foreign` FOREIGN KEY (`subscriber_id`) REFERENCES `subscriber` (`id`) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
INSERT INTO `list_member` (`list_id`, `subscriber_id`) VALUES (1,1);
INSERT INTO `list_member` (`list_id`, `subscriber_id`) VALUES (1,2);
INSERT INTO `list_member` (`list_id`, `subscriber_id`) VALUES (1,3);
CREATE TABLE `live` (
  `topic` varchar(60) NOT NULL,
  `version` bigint(20) NOT NULL,
  `touched_at` datetime(3) NOT NULL,
  PRIMARY KEY (`topic`),
  KEY `live_touched_at_index` (`touched_at`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
CREATE TABLE `pause` (
  `channel` varchar(5) NOT NULL,
  `text` varchar(500) NOT NULL,
  `since` datetime(3) NOT NULL,
  PRIMARY KEY (`channel`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
CREATE TABLE `personal` (
  `event_id` int(10) unsigned NOT NULL,
  `subscriber_id` bigint(20) unsigned NOT NULL,
  `start` varchar(16) NOT NULL,
  `end` varchar(16) NOT NULL,
  `place` varchar(500) NOT NULL,
  `notes` varchar(2000) NOT NULL,
  `revision` int(11) NOT NULL DEFAULT 0,
  PRIMARY KEY (`event_id`,`subscriber_id`),
  KEY `personal_event_id_start_index` (`event_id`,`start`),
  KEY `personal_subscriber_id_index` (`subscriber_id`),
  CONSTRAINT `personal_event_id_foreign` FOREIGN KEY (`event_id`) REFERENCES `event` (`id`) ON DELETE CASCADE,
  CONSTRAINT `personal_subscriber_id_foreign` FOREIGN KEY (`subscriber_id`) REFERENCES `subscriber` (`id`) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
CREATE TABLE `proposal` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `event_id` int(10) unsigned NOT NULL,
  `subscriber_id` bigint(20) unsigned NOT NULL,
  `occurrence` varchar(20) NOT NULL,
  `starts_at` datetime(3) NOT NULL,
  `ends_at` datetime(3) NOT NULL,
  `comment` varchar(500) NOT NULL,
  `state` varchar(10) NOT NULL,
  `received_at` datetime(3) NOT NULL,
  PRIMARY KEY (`id`),
  KEY `proposal_subscriber_id_foreign` (`subscriber_id`),
  KEY `proposal_event_id_state_index` (`event_id`,`state`),
  KEY `proposal_state_index` (`state`),
  CONSTRAINT `proposal_event_id_foreign` FOREIGN KEY (`event_id`) REFERENCES `event` (`id`) ON DELETE CASCADE,
  CONSTRAINT `proposal_subscriber_id_foreign` FOREIGN KEY (`subscriber_id`) REFERENCES `subscriber` (`id`) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
CREATE TABLE `recovery_code` (
  `user_id` int(10) unsigned NOT NULL,
  `digest` char(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  PRIMARY KEY (`user_id`,`digest`),
  CONSTRAINT `recovery_code_user_id_foreign` FOREIGN KEY (`user_id`) REFERENCES `user` (`id`) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
CREATE TABLE `refusal` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `subscriber_id` bigint(20) unsigned NOT NULL,
  `about` varchar(10) NOT NULL,
  `at` datetime(3) NOT NULL,
  `text` varchar(500) NOT NULL,
  PRIMARY KEY (`id`),
  KEY `refusal_subscriber_id_at_index` (`subscriber_id`,`at`),
  KEY `refusal_about_at_index` (`about`,`at`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
CREATE TABLE `registration_hold` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `event_id` int(10) unsigned NOT NULL,
  `occurrence` varchar(20) NOT NULL,
  `name` varchar(200) NOT NULL,
  `email` varchar(254) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  `held_until` datetime(3) NOT NULL,
  `confirmed_at` datetime(3) DEFAULT NULL,
  PRIMARY KEY (`id`),
  UNIQUE KEY `registration_hold_event_id_occurrence_email_unique` (`event_id`,`occurrence`,`email`),
  KEY `registration_hold_held_until_index` (`held_until`),
  KEY `registration_hold_event_id_occurrence_held_until_index` (`event_id`,`occurrence`,`held_until`),
  CONSTRAINT `registration_hold_event_id_foreign` FOREIGN KEY (`event_id`) REFERENCES `event` (`id`) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
CREATE TABLE `reply` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `event_id` int(10) unsigned DEFAULT NULL,
  `received_at` datetime(3) NOT NULL,
  `from_address` varchar(254) NOT NULL,
  `attendee` varchar(254) NOT NULL,
  `state` varchar(12) NOT NULL,
  `verdict` varchar(20) NOT NULL,
  `reason` varchar(40) NOT NULL,
  `raw` mediumtext NOT NULL,
  `occurrence` varchar(20) NOT NULL DEFAULT '',
  PRIMARY KEY (`id`),
  KEY `reply_event_id_index` (`event_id`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
CREATE TABLE `request_key` (
  `key` varchar(80) NOT NULL,
  `at` datetime(3) NOT NULL,
  `answer` longtext CHARACTER SET utf8mb4 COLLATE utf8mb4_bin DEFAULT NULL CHECK (json_valid(`answer`)),
  PRIMARY KEY (`key`),
  KEY `request_key_at_index` (`at`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
CREATE TABLE `session` (
  `digest` char(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  `data` text NOT NULL,
  `user_id` int(10) unsigned DEFAULT NULL,
  `started_at` datetime(3) NOT NULL,
  `seen_at` datetime(3) NOT NULL,
  `expires_at` datetime(3) NOT NULL,
  `address` varchar(45) NOT NULL,
  `agent` varchar(200) NOT NULL,
  PRIMARY KEY (`digest`),
  KEY `session_user_id_foreign` (`user_id`),
  KEY `session_expires_at_index` (`expires_at`),
  CONSTRAINT `session_user_id_foreign` FOREIGN KEY (`user_id`) REFERENCES `user` (`id`) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
CREATE TABLE `setting` (
  `id` int(11) NOT NULL,
  `value` longtext CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL CHECK (json_valid(`value`)),
  PRIMARY KEY (`id`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
CREATE TABLE `sign_in_failure` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `account` varchar(254) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
  `address` varchar(45) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  `at` datetime(3) NOT NULL,
  PRIMARY KEY (`id`),
  KEY `sign_in_failure_at_index` (`at`),
  KEY `sign_in_failure_account_at_index` (`account`,`at`),
  KEY `sign_in_failure_address_at_index` (`address`,`at`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
CREATE TABLE `subscriber` (
  `id` bigint(20) unsigned NOT NULL AUTO_INCREMENT,
  `email` varchar(254) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin DEFAULT NULL,
  `name` varchar(200) NOT NULL DEFAULT '',
  `zone` varchar(64) NOT NULL DEFAULT '',
  `mobile` varchar(20) NOT NULL DEFAULT '',
  `text_consent` tinyint(1) NOT NULL DEFAULT 0,
  `opted_out_at` datetime(3) DEFAULT NULL,
  `bounced_at` datetime(3) DEFAULT NULL,
  `bounce_text` varchar(500) NOT NULL DEFAULT '',
  `created_at` datetime(3) NOT NULL,
  `fields` longtext CHARACTER SET utf8mb4 COLLATE utf8mb4_bin DEFAULT NULL CHECK (json_valid(`fields`)),
  `feed_nonce` int(11) NOT NULL DEFAULT 0,
  PRIMARY KEY (`id`),
  UNIQUE KEY `subscriber_email_unique` (`email`),
  KEY `subscriber_mobile_index` (`mobile`),
  KEY `subscriber_bounced_at_index` (`bounced_at`)
) ENGINE=InnoDB AUTO_INCREMENT=4 DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
INSERT INTO `subscriber` (`id`, `email`, `name`, `zone`, `mobile`, `text_consent`, `opted_out_at`, `bounced_at`, `bounce_text`, `created_at`, `fields`, `feed_nonce`) VALUES (1,'p1@people.example','Person 1','Europe/Lisbon','',0,NULL,NULL,'','2026-01-01 00:00:00.000','{\"Level\":\"Gold\",\"town\":\"Évora\"}',0);
INSERT INTO `subscriber` (`id`, `email`, `name`, `zone`, `mobile`, `text_consent`, `opted_out_at`, `bounced_at`, `bounce_text`, `created_at`, `fields`, `feed_nonce`) VALUES (2,'p2@people.example','Person 2','Europe/Lisbon','',0,NULL,NULL,'','2026-01-01 00:00:00.000','{\"level\":\"silver\"}',0);
INSERT INTO `subscriber` (`id`, `email`, `name`, `zone`, `mobile`, `text_consent`, `opted_out_at`, `bounced_at`, `bounce_text`, `created_at`, `fields`, `feed_nonce`) VALUES (3,'p3@people.example','Maria da Silva Prado','Europe/Lisbon','',0,NULL,NULL,'','2026-01-01 00:00:00.000',NULL,0);
CREATE TABLE `subscriber_topic` (
  `subscriber_id` bigint(20) unsigned NOT NULL,
  `topic` varchar(60) NOT NULL,
  PRIMARY KEY (`subscriber_id`,`topic`),
  KEY `subscriber_topic_topic_subscriber_id_index` (`topic`,`subscriber_id`),
  CONSTRAINT `subscriber_topic_subscriber_id_foreign` FOREIGN KEY (`subscriber_id`) REFERENCES `subscriber` (`id`) ON DELETE CASCADE
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
CREATE TABLE `user` (
  `id` int(10) unsigned NOT NULL AUTO_INCREMENT,
  `email` varchar(254) NOT NULL,
  `name` varchar(120) NOT NULL,
  `role` varchar(20) NOT NULL,
  `password_hash` varchar(200) NOT NULL,
  `totp_secret` varchar(200) DEFAULT NULL,
  `totp_step` bigint(20) NOT NULL DEFAULT 0,
  PRIMARY KEY (`id`),
  UNIQUE KEY `user_email_unique` (`email`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
CREATE TABLE `watch` (
  `id` int(10) unsigned NOT NULL AUTO_INCREMENT,
  `fields` longtext CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL CHECK (json_valid(`fields`)),
  `etag` varchar(300) NOT NULL DEFAULT '',
  `last_modified` varchar(100) NOT NULL DEFAULT '',
  `next_at` datetime(3) NOT NULL,
  `looked_at` datetime(3) DEFAULT NULL,
  `outcome` varchar(500) NOT NULL DEFAULT '',
  `is_failing` tinyint(1) NOT NULL DEFAULT 0,
  PRIMARY KEY (`id`),
  KEY `watch_next_at_index` (`next_at`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
CREATE TABLE `worker` (
  `lease` varchar(40) NOT NULL,
  `alive_until` datetime(3) NOT NULL,
  PRIMARY KEY (`lease`)
) ENGINE=InnoDB DEFAULT CHARSET=utf8mb4 COLLATE=utf8mb4_unicode_520_ci;
