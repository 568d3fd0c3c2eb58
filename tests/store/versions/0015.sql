BEGIN TRANSACTION;
CREATE TABLE acknowledgement (
	id INTEGER NOT NULL, 
	board INTEGER NOT NULL, 
	"key" VARCHAR NOT NULL, 
	why VARCHAR NOT NULL, 
	reason VARCHAR NOT NULL, 
	created DATETIME NOT NULL, 
	PRIMARY KEY (id), 
	UNIQUE (board, "key"), 
	FOREIGN KEY(board) REFERENCES board (id) ON DELETE CASCADE
);
INSERT INTO "acknowledgement" VALUES(1,1,'k','w','r','2026-11-20 08:00:00.000000');
CREATE TABLE alembic_version (
	version_num VARCHAR(32) NOT NULL, 
	CONSTRAINT alembic_version_pkc PRIMARY KEY (version_num)
);
INSERT INTO "alembic_version" VALUES('0015');
CREATE TABLE board (
	id INTEGER NOT NULL, 
	name VARCHAR NOT NULL, 
	created DATETIME NOT NULL, 
	changed DATETIME NOT NULL, 
	head INTEGER, variant VARCHAR DEFAULT '' NOT NULL, archived DATETIME, removed DATETIME, order_id INTEGER REFERENCES orders (id), elsewhere BOOLEAN NOT NULL DEFAULT 0, 
	PRIMARY KEY (id), 
	FOREIGN KEY(head) REFERENCES revision (id)
);
INSERT INTO "board" VALUES(1,'Shoal','2026-11-20 08:00:00.000000','2026-11-20 08:00:00.000000',2,'',NULL,NULL,1,0);
CREATE TABLE calendar (
	id INTEGER NOT NULL, 
	"key" VARCHAR NOT NULL, 
	data VARCHAR NOT NULL, 
	created DATETIME NOT NULL, 
	PRIMARY KEY (id)
);
INSERT INTO "calendar" VALUES(1,'k','{}','2026-11-28 18:00:00.000000');
CREATE TABLE calendar_move (
	id INTEGER NOT NULL, 
	board INTEGER NOT NULL, 
	job VARCHAR NOT NULL, 
	start DATETIME, 
	created DATETIME NOT NULL, 
	PRIMARY KEY (id), 
	FOREIGN KEY(board) REFERENCES board (id) ON DELETE CASCADE
);
INSERT INTO "calendar_move" VALUES(1,1,'1.panel.dry','2026-12-03 18:00:00.000000','2026-11-28 18:00:00.000000');
CREATE TABLE cut (
	id INTEGER NOT NULL, 
	board INTEGER NOT NULL, 
	state VARCHAR NOT NULL, 
	"plan" VARCHAR NOT NULL, 
	took VARCHAR NOT NULL, 
	created DATETIME NOT NULL, 
	PRIMARY KEY (id), 
	FOREIGN KEY(board) REFERENCES board (id) ON DELETE CASCADE
);
CREATE TABLE device (
	id INTEGER NOT NULL, 
	name VARCHAR NOT NULL, 
	token VARCHAR NOT NULL, 
	may VARCHAR NOT NULL, 
	created DATETIME NOT NULL, 
	seen DATETIME NOT NULL, 
	until DATETIME, 
	PRIMARY KEY (id), 
	UNIQUE (token)
);
CREATE TABLE lesson (
	id INTEGER NOT NULL, 
	board INTEGER, 
	taught_by VARCHAR NOT NULL, 
	text VARCHAR NOT NULL, 
	kind VARCHAR NOT NULL, 
	machine VARCHAR NOT NULL, 
	wood VARCHAR NOT NULL, 
	family VARCHAR NOT NULL, 
	created DATETIME NOT NULL, thickness FLOAT, "order" VARCHAR DEFAULT '' NOT NULL, 
	PRIMARY KEY (id), 
	FOREIGN KEY(board) REFERENCES board (id) ON DELETE SET NULL
);
CREATE TABLE lot (
	id INTEGER NOT NULL, 
	kind VARCHAR NOT NULL, 
	wood VARCHAR NOT NULL, 
	count INTEGER NOT NULL, 
	length FLOAT NOT NULL, 
	width FLOAT NOT NULL, 
	thickness FLOAT NOT NULL, 
	moisture FLOAT, 
	price FLOAT, 
	radius FLOAT, 
	place VARCHAR DEFAULT '' NOT NULL, 
	note VARCHAR DEFAULT '' NOT NULL, 
	defects VARCHAR DEFAULT '[]' NOT NULL, 
	cut INTEGER, 
	created DATETIME NOT NULL, 
	PRIMARY KEY (id), 
	FOREIGN KEY(cut) REFERENCES cut (id) ON DELETE SET NULL
);
INSERT INTO "lot" VALUES(1,'plank','beech',6,2400.0,180.0,52.0,NULL,NULL,NULL,'rack 2','','[]',NULL,'2026-11-20 08:00:00.000000');
CREATE TABLE note (
	id INTEGER NOT NULL, 
	board INTEGER NOT NULL, 
	step VARCHAR NOT NULL, 
	text VARCHAR NOT NULL, 
	measured FLOAT, 
	created DATETIME NOT NULL, planned FLOAT, quantity VARCHAR DEFAULT '' NOT NULL, unit VARCHAR DEFAULT 'mm' NOT NULL, piece INTEGER, spots VARCHAR DEFAULT '' NOT NULL, 
	PRIMARY KEY (id), 
	FOREIGN KEY(board) REFERENCES board (id) ON DELETE CASCADE
);
INSERT INTO "note" VALUES(1,1,'strips.plane','a hair thick',33.4,'2026-11-20 08:00:00.000000',NULL,'','mm',NULL,'');
INSERT INTO "note" VALUES(2,1,'strips.rip','',30.2,'2026-11-28 08:26:49.446181',30.0,'','mm',NULL,'');
CREATE TABLE orders (
	id INTEGER NOT NULL, 
	whom VARCHAR NOT NULL, 
	due DATETIME, 
	price FLOAT, 
	state VARCHAR NOT NULL, 
	note VARCHAR NOT NULL, 
	created DATETIME NOT NULL, 
	since DATETIME NOT NULL, 
	PRIMARY KEY (id)
);
INSERT INTO "orders" VALUES(1,'the island ferry','2026-11-20 08:00:00.000000',NULL,'agreed','','2026-11-20 08:00:00.000000','2026-11-20 08:00:00.000000');
CREATE TABLE own_wood (
	"key" VARCHAR NOT NULL, 
	data VARCHAR NOT NULL, 
	PRIMARY KEY ("key")
);
CREATE TABLE photo (
	lot INTEGER NOT NULL, 
	jpeg BLOB NOT NULL, 
	PRIMARY KEY (lot), 
	FOREIGN KEY(lot) REFERENCES lot (id) ON DELETE CASCADE
);
CREATE TABLE pin (
	id INTEGER NOT NULL, 
	board INTEGER NOT NULL, 
	piece INTEGER NOT NULL, 
	side VARCHAR NOT NULL, 
	x FLOAT NOT NULL, 
	y FLOAT NOT NULL, 
	fault VARCHAR NOT NULL, 
	strip VARCHAR NOT NULL, 
	wood VARCHAR NOT NULL, 
	stage VARCHAR NOT NULL, 
	text VARCHAR NOT NULL, 
	mended VARCHAR NOT NULL, 
	minutes FLOAT, 
	photo INTEGER, 
	created DATETIME NOT NULL, 
	PRIMARY KEY (id), 
	FOREIGN KEY(board) REFERENCES board (id) ON DELETE CASCADE, 
	FOREIGN KEY(photo) REFERENCES snapshot (id) ON DELETE SET NULL
);
CREATE TABLE preference (
	"key" VARCHAR NOT NULL, 
	value VARCHAR NOT NULL, 
	PRIMARY KEY ("key")
);
INSERT INTO "preference" VALUES('units','in16');
CREATE TABLE revision (
	id INTEGER NOT NULL, 
	board INTEGER NOT NULL, 
	parent INTEGER, 
	"plan" VARCHAR NOT NULL, 
	words VARCHAR NOT NULL, 
	created DATETIME NOT NULL, name VARCHAR DEFAULT '' NOT NULL, token VARCHAR DEFAULT '' NOT NULL, 
	PRIMARY KEY (id), 
	FOREIGN KEY(board) REFERENCES board (id) ON DELETE CASCADE, 
	FOREIGN KEY(parent) REFERENCES revision (id)
);
INSERT INTO "revision" VALUES(1,1,NULL,'{"format":"laberinto-plan","version":1,"name":"Shoal","note":"","wanted":{"width":null,"length":null,"thickness":null},"pattern":{"family":"alternating","parameters":{"thickness":38.0,"kerf":3.0,"squaring":5.0,"flatten_panel":1.5,"flatten_board":2.0,"edge":3.0,"planer_shortest":300.0,"last_grit":"220","raise_grain":"once","finish":"mineral","spread":"both","feet":"none","light":"beech","dark":"plum","strips":4,"strip_width":30.0,"row":30.0,"slices":4,"panel_length":null,"width":null,"length":null}},"stages":[{"id":"strips","kind":"mill","from":null,"skip":false,"thickness":33.0,"length":245.0,"strips":[{"wood":"beech","width":30.0,"count":1,"mark":1,"rings":null,"sawn":null,"ring_spacing":null,"turned":"as-sawn"},{"wood":"plum","width":30.0,"count":1,"mark":2,"rings":null,"sawn":null,"ring_spacing":null,"turned":"as-sawn"},{"wood":"beech","width":30.0,"count":1,"mark":3,"rings":null,"sawn":null,"ring_spacing":null,"turned":"as-sawn"},{"wood":"plum","width":30.0,"count":1,"mark":4,"rings":null,"sawn":null,"ring_spacing":null,"turned":"as-sawn"}]},{"id":"panel","kind":"glue","from":"strips","skip":false,"with":[],"spread":"both","clamp_hours":12.0,"across":"width","sequence":[],"reverse":false,"shuffle":null,"order":[],"turns":[],"turned":{},"shifts":[],"stagger":0.0,"shifted":{},"dry":[]},{"id":"panel-flat","kind":"flatten","from":"panel","skip":false,"to":30.0,"each_face":null,"faces":"top-bottom","level":false,"method":"drum-sander"},{"id":"slices","kind":"crosscut","from":"panel-flat","skip":false,"slice":42.0,"count":4,"kerf":3.0,"squaring":5.0,"skew":0.0,"bevel":0.0},{"id":"rows","kind":"arrange","from":"slices","skip":false,"with":[],"rule":"flip-every-other","panels":"alternate","shuffle":null,"order":[],"turned":{}},{"id":"board","kind":"glue","from":"rows","skip":false,"with":[],"spread":"both","clamp_hours":24.0,"across":"length","sequence":[],"reverse":false,"shuffle":null,"order":[],"turns":[],"turned":{},"shifts":[],"stagger":0.0,"shifted":{},"dry":[]},{"id":"board-flat","kind":"flatten","from":"board","skip":false,"to":38.0,"each_face":null,"faces":"top-bottom","level":false,"method":"drum-sander"},{"id":"trimmed","kind":"trim","from":"board-flat","skip":false,"edge":3.0,"width":null,"length":null,"flush":false},{"id":"eased","kind":"ease","from":"trimmed","skip":false,"form":"chamfer","size":2.0,"top":true,"bottom":true,"corners":false},{"id":"sanded","kind":"sand","from":"eased","skip":false,"grits":[80,120,180,220],"raise_grain":true},{"id":"oiled","kind":"oil","from":"sanded","skip":false,"oil":"mineral","rounds":2,"hours":12.0},{"id":"waxed","kind":"wax","from":"oiled","skip":false,"parts_oil":4.0}]}','started','2026-11-20 08:00:00.000000','','');
INSERT INTO "revision" VALUES(2,1,1,'{"format":"laberinto-plan","version":1,"name":"Shoal","note":"","wanted":{"width":null,"length":null,"thickness":null},"pattern":{"family":"alternating","parameters":{"thickness":38.0,"kerf":3.0,"squaring":5.0,"flatten_panel":1.5,"flatten_board":2.0,"edge":3.0,"planer_shortest":300.0,"last_grit":"220","raise_grain":"once","finish":"mineral","spread":"both","feet":"none","light":"beech","dark":"plum","strips":6,"strip_width":30.0,"row":30.0,"slices":4,"panel_length":null,"width":null,"length":null}},"stages":[{"id":"strips","kind":"mill","from":null,"skip":false,"thickness":33.0,"length":245.0,"strips":[{"wood":"beech","width":30.0,"count":1,"mark":1,"rings":null,"sawn":null,"ring_spacing":null,"turned":"as-sawn"},{"wood":"plum","width":30.0,"count":1,"mark":2,"rings":null,"sawn":null,"ring_spacing":null,"turned":"as-sawn"},{"wood":"beech","width":30.0,"count":1,"mark":3,"rings":null,"sawn":null,"ring_spacing":null,"turned":"as-sawn"},{"wood":"plum","width":30.0,"count":1,"mark":4,"rings":null,"sawn":null,"ring_spacing":null,"turned":"as-sawn"},{"wood":"beech","width":30.0,"count":1,"mark":5,"rings":null,"sawn":null,"ring_spacing":null,"turned":"as-sawn"},{"wood":"plum","width":30.0,"count":1,"mark":6,"rings":null,"sawn":null,"ring_spacing":null,"turned":"as-sawn"}]},{"id":"panel","kind":"glue","from":"strips","skip":false,"with":[],"spread":"both","clamp_hours":12.0,"across":"width","sequence":[],"reverse":false,"shuffle":null,"order":[],"turns":[],"turned":{},"shifts":[],"stagger":0.0,"shifted":{},"dry":[]},{"id":"panel-flat","kind":"flatten","from":"panel","skip":false,"to":30.0,"each_face":null,"faces":"top-bottom","level":false,"method":"drum-sander"},{"id":"slices","kind":"crosscut","from":"panel-flat","skip":false,"slice":42.0,"count":4,"kerf":3.0,"squaring":5.0,"skew":0.0,"bevel":0.0},{"id":"rows","kind":"arrange","from":"slices","skip":false,"with":[],"rule":"flip-every-other","panels":"alternate","shuffle":null,"order":[],"turned":{}},{"id":"board","kind":"glue","from":"rows","skip":false,"with":[],"spread":"both","clamp_hours":24.0,"across":"length","sequence":[],"reverse":false,"shuffle":null,"order":[],"turns":[],"turned":{},"shifts":[],"stagger":0.0,"shifted":{},"dry":[]},{"id":"board-flat","kind":"flatten","from":"board","skip":false,"to":38.0,"each_face":null,"faces":"top-bottom","level":false,"method":"drum-sander"},{"id":"trimmed","kind":"trim","from":"board-flat","skip":false,"edge":3.0,"width":null,"length":null,"flush":false},{"id":"eased","kind":"ease","from":"trimmed","skip":false,"form":"chamfer","size":2.0,"top":true,"bottom":true,"corners":false},{"id":"sanded","kind":"sand","from":"eased","skip":false,"grits":[80,120,180,220],"raise_grain":true},{"id":"oiled","kind":"oil","from":"sanded","skip":false,"oil":"mineral","rounds":2,"hours":12.0},{"id":"waxed","kind":"wax","from":"oiled","skip":false,"parts_oil":4.0}]}','one strip more','2026-11-20 08:00:00.000000','the wide one','t1');
CREATE TABLE snapshot (
	id INTEGER NOT NULL, 
	board INTEGER NOT NULL, 
	step VARCHAR NOT NULL, 
	jpeg BLOB NOT NULL, 
	created DATETIME NOT NULL, 
	PRIMARY KEY (id), 
	FOREIGN KEY(board) REFERENCES board (id) ON DELETE CASCADE
);
CREATE TABLE summary (
	board INTEGER NOT NULL, 
	revision INTEGER NOT NULL, 
	shop VARCHAR NOT NULL, 
	data VARCHAR NOT NULL, 
	PRIMARY KEY (board), 
	FOREIGN KEY(board) REFERENCES board (id) ON DELETE CASCADE
);
CREATE TABLE tally (
	id INTEGER NOT NULL, 
	board INTEGER NOT NULL, 
	step VARCHAR NOT NULL, 
	count INTEGER NOT NULL, 
	first DATETIME NOT NULL, 
	last DATETIME NOT NULL, 
	PRIMARY KEY (id), 
	UNIQUE (board, step), 
	FOREIGN KEY(board) REFERENCES board (id) ON DELETE CASCADE
);
INSERT INTO "tally" VALUES(1,1,'strips.rip',1,'2026-11-28 08:26:49.401064','2026-11-28 08:26:49.401064');
CREATE TABLE tick (
	id INTEGER NOT NULL, 
	board INTEGER NOT NULL, 
	step VARCHAR NOT NULL, 
	done DATETIME NOT NULL, 
	PRIMARY KEY (id), 
	UNIQUE (board, step), 
	FOREIGN KEY(board) REFERENCES board (id) ON DELETE CASCADE
);
INSERT INTO "tick" VALUES(1,1,'strips.rough','2026-11-20 08:00:00.000000');
CREATE TABLE timer (
	id INTEGER NOT NULL, 
	board INTEGER, 
	label VARCHAR NOT NULL, 
	started DATETIME NOT NULL, 
	ends DATETIME NOT NULL, 
	PRIMARY KEY (id), 
	FOREIGN KEY(board) REFERENCES board (id) ON DELETE CASCADE
);
INSERT INTO "timer" VALUES(1,1,'In the clamps','2026-11-28 08:26:49.438280','2026-11-28 09:26:49.438280');
CREATE TABLE trash (
	id INTEGER NOT NULL, 
	kind VARCHAR NOT NULL, 
	board INTEGER, 
	title VARCHAR NOT NULL, 
	data VARCHAR NOT NULL, 
	jpeg BLOB, 
	removed DATETIME NOT NULL, 
	PRIMARY KEY (id), 
	FOREIGN KEY(board) REFERENCES board (id) ON DELETE CASCADE
);
CREATE TABLE variant (
	id INTEGER NOT NULL, 
	board INTEGER NOT NULL, 
	letter VARCHAR NOT NULL, 
	revision INTEGER NOT NULL, 
	PRIMARY KEY (id), 
	UNIQUE (board, letter), 
	FOREIGN KEY(board) REFERENCES board (id) ON DELETE CASCADE, 
	FOREIGN KEY(revision) REFERENCES revision (id)
);
INSERT INTO "variant" VALUES(1,1,'A',1);
CREATE TABLE wood_photo (
	wood VARCHAR NOT NULL, 
	part VARCHAR NOT NULL, 
	jpeg BLOB NOT NULL, 
	corners VARCHAR NOT NULL, 
	width FLOAT NOT NULL, 
	height FLOAT NOT NULL, 
	finish VARCHAR NOT NULL, 
	PRIMARY KEY (wood, part), 
	FOREIGN KEY(wood) REFERENCES own_wood ("key") ON DELETE CASCADE
);
CREATE INDEX ix_board_name ON board (name);
CREATE INDEX ix_revision_board ON revision (board);
CREATE INDEX ix_tick_board ON tick (board);
CREATE INDEX ix_note_board ON note (board);
CREATE INDEX ix_variant_board ON variant (board);
CREATE INDEX ix_cut_board ON cut (board);
CREATE INDEX ix_lot_wood ON lot (wood);
CREATE INDEX ix_acknowledgement_board ON acknowledgement (board);
CREATE INDEX ix_tally_board ON tally (board);
CREATE INDEX ix_timer_board ON timer (board);
CREATE INDEX ix_snapshot_board ON snapshot (board);
CREATE INDEX ix_pin_board ON pin (board);
CREATE INDEX ix_calendar_move_board ON calendar_move (board);
CREATE INDEX ix_calendar_move_job ON calendar_move (job);
CREATE INDEX ix_board_order_id ON board (order_id);
CREATE INDEX ix_trash_board ON trash (board);
CREATE INDEX ix_board_head ON board (head);
CREATE INDEX ix_revision_parent ON revision (parent);
CREATE INDEX ix_variant_revision ON variant (revision);
COMMIT;
