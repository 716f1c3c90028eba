-- A log as version 2 wrote it. Kept as it is: newer programs must open it.
CREATE TABLE day (
  id INTEGER PRIMARY KEY, date TEXT NOT NULL, track TEXT NOT NULL, surface TEXT NOT NULL, grip TEXT NOT NULL,
  bumps TEXT NOT NULL, air_celsius REAL, ground_celsius REAL, notes TEXT NOT NULL,
  humidity_percent REAL);
CREATE INDEX day_by_date ON day (date);
CREATE TABLE run (
  id INTEGER PRIMARY KEY, day INTEGER NOT NULL REFERENCES day (id) ON DELETE CASCADE, started TEXT NOT NULL,
  car TEXT NOT NULL, setup TEXT NOT NULL, measured TEXT NOT NULL, tyres TEXT NOT NULL, tyre_runs INTEGER,
  additive TEXT NOT NULL, battery TEXT NOT NULL, length_s REAL, broke TEXT NOT NULL, notes TEXT NOT NULL,
  verdict TEXT NOT NULL, marked_by TEXT NOT NULL DEFAULT '', laps INTEGER NOT NULL DEFAULT 0,
  best_s REAL NOT NULL DEFAULT 0);
CREATE INDEX run_by_day ON run (day, started, id);
CREATE INDEX run_by_car ON run (car);
CREATE TABLE lap (
  run INTEGER NOT NULL REFERENCES run (id) ON DELETE CASCADE, place INTEGER NOT NULL, number INTEGER NOT NULL,
  seconds REAL NOT NULL, mark TEXT NOT NULL, PRIMARY KEY (run, place)) WITHOUT ROWID;
CREATE TABLE feeling (
  run INTEGER NOT NULL REFERENCES run (id) ON DELETE CASCADE, place INTEGER NOT NULL, phase TEXT NOT NULL,
  sense TEXT NOT NULL, turn TEXT NOT NULL, amount INTEGER NOT NULL, PRIMARY KEY (run, place)) WITHOUT ROWID;
PRAGMA application_id = 1263096901;
PRAGMA user_version = 2;
INSERT INTO day VALUES (1, '2025-08-30', 'Brickworks yard', 'loose_dirt', 'low', 'rough', 24.0, NULL, 'dust', 38.0);
INSERT INTO run VALUES (1, 1, '11:20', 'plover-2wd', '', '', 'pins', 2, '', 'no. 1', 300.0, '', '', 'same', 'no. 7', 3, 21.4);
INSERT INTO lap VALUES (1, 0, 1, 22.1, 'ordinary'), (1, 1, 2, 19.0, 'crash'), (1, 2, 3, 21.4, 'ordinary');
INSERT INTO feeling VALUES (1, 0, 'exit', 'rear_grip', 'both', -1);
