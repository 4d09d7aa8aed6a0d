// The tables of a house's file. Each step leads from one version to the next, so that a file of any age is led to the last.

export const migrations: readonly string[] = [
  // What is to outlive the process: the house's memory in parts, its journal, the history of its signals, what people did.
  `
  CREATE TABLE state (path TEXT PRIMARY KEY, json TEXT NOT NULL) WITHOUT ROWID;
  CREATE TABLE houses (id INTEGER PRIMARY KEY, at INTEGER NOT NULL, house TEXT NOT NULL, asking TEXT NOT NULL);
  CREATE TABLE keys (number INTEGER PRIMARY KEY, key TEXT NOT NULL UNIQUE);
  CREATE TABLE records (id INTEGER PRIMARY KEY, at INTEGER NOT NULL, event TEXT NOT NULL, causes TEXT NOT NULL);
  CREATE INDEX records_at ON records (at);
  CREATE TABLE checkpoints (at INTEGER NOT NULL, record INTEGER NOT NULL, PRIMARY KEY (at, record)) WITHOUT ROWID;
  CREATE TABLE signals (number INTEGER PRIMARY KEY, name TEXT NOT NULL UNIQUE);
  CREATE TABLE history (id INTEGER PRIMARY KEY, signal INTEGER NOT NULL, at INTEGER NOT NULL, value);
  CREATE INDEX history_signal ON history (signal, at);
  CREATE TABLE hours (
    signal INTEGER NOT NULL, at INTEGER NOT NULL, count INTEGER NOT NULL, mean REAL NOT NULL, low REAL NOT NULL, high REAL NOT NULL,
    PRIMARY KEY (signal, at)
  ) WITHOUT ROWID;
  CREATE TABLE deeds (id INTEGER PRIMARY KEY, at INTEGER NOT NULL, who TEXT NOT NULL, origin TEXT NOT NULL, did TEXT NOT NULL);
  CREATE TABLE tokens (hash TEXT PRIMARY KEY, at INTEGER NOT NULL) WITHOUT ROWID;
  `,
  // Notices that are on their way while the broker is away; what was seen of outputs when they were tried.
  `
  CREATE TABLE outbox (id INTEGER PRIMARY KEY, at INTEGER NOT NULL, topic TEXT NOT NULL, text TEXT NOT NULL);
  CREATE TABLE tried (output TEXT PRIMARY KEY, at INTEGER NOT NULL, found TEXT NOT NULL) WITHOUT ROWID;
  `,
  // Who has a token, and what they may; what a person's act was about; notices that somebody ticked off.
  `
  ALTER TABLE tokens ADD COLUMN name TEXT NOT NULL DEFAULT 'owner';
  ALTER TABLE tokens ADD COLUMN may TEXT NOT NULL DEFAULT 'act';
  ALTER TABLE deeds ADD COLUMN thing TEXT;
  CREATE INDEX deeds_thing ON deeds (thing, id);
  CREATE INDEX records_notices ON records (at) WHERE substr(event, 1, 16) = '{"kind":"notice"';
  CREATE TABLE ticked (record INTEGER PRIMARY KEY, at INTEGER NOT NULL, who TEXT NOT NULL);
  `,
];
