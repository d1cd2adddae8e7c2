// Package store keeps the records: collections, documents, the pages read from
// them, and measurements, in one SQLite file, and the files themselves under
// the hash of their content. It is the truth; an index can be made anew from it.
package store

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"net/url"
	"os"
	"path/filepath"

	_ "modernc.org/sqlite" // the driver
)

// Errors that callers tell apart.
var (
	ErrNotFound = errors.New("not found")
	ErrExists   = errors.New("exists already")
)

// A Store is one data directory. It may be used by many goroutines.
type Store struct {
	dir string
	db  *sql.DB

	held   holding
	shared *sharing // with other hosts; nil for one alone
}

// Open opens the store in dir, making it if there is none. Only one program
// may have it open.
func Open(ctx context.Context, dir string) (*Store, error) {
	for _, sub := range []string{"files", "incoming", "renditions"} {
		if err := os.MkdirAll(filepath.Join(dir, sub), 0o700); err != nil {
			return nil, fmt.Errorf("store: %w", err)
		}
	}
	path := filepath.Join(dir, Records)
	if err := prepare(dir, path); err != nil {
		return nil, err
	}
	pragmas := url.Values{"_pragma": {
		"journal_mode(WAL)", "synchronous(FULL)", "foreign_keys(1)", fmt.Sprintf("busy_timeout(%d)", busyFor), "cache_size(-16000)", "secure_delete(1)",
	}, "_txlock": {"immediate"}}
	db, err := sql.Open("sqlite", "file:"+path+"?"+pragmas.Encode())
	if err != nil {
		return nil, fmt.Errorf("store: open %s: %w", dir, err)
	}
	db.SetMaxOpenConns(connections)
	db.SetMaxIdleConns(connections)
	s := &Store{dir: dir, db: db, held: holding{of: map[string]int{}, late: map[string]bool{}}}
	if err := s.migrate(ctx); err != nil {
		db.Close()
		return nil, fmt.Errorf("store: %s cannot be used (%w); put a backup in its place with: jardinet restore", path, err)
	}
	return s, s.clearIncoming()
}

// Records is the name of the file with the records.
const Records = "jardinet.sqlite"

// busyFor is how many milliseconds a change waits for another one.
const busyFor = 5000

// connections is how many requests read at a time; each has a cache of its own.
const connections = 8

// prepare makes the file of the records for its owner alone. Where there are originals and no
// records, the records have been lost, and beginning anew would hide that.
func prepare(dir, path string) error {
	stat, err := os.Stat(path)
	if err == nil && stat.Size() > 0 {
		return nil
	}
	originals, err := os.ReadDir(filepath.Join(dir, "files"))
	if err != nil {
		return fmt.Errorf("store: %w", err)
	}
	if len(originals) > 0 {
		return fmt.Errorf("store: %s is missing or empty, though %d originals are here; put a backup in place with \"jardinet restore\", or move the folder files away to begin anew", path, len(originals))
	}
	f, err := os.OpenFile(path, os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return fmt.Errorf("store: %w", err)
	}
	return f.Close()
}

// Close closes the store.
func (s *Store) Close() error { return s.db.Close() }

// schema holds the steps from one version to the next.
var schema = []string{`
CREATE TABLE collections (
	id      TEXT PRIMARY KEY,
	name    TEXT NOT NULL UNIQUE,
	created TEXT NOT NULL,
	recipe  TEXT NOT NULL
) STRICT;

CREATE TABLE documents (
	id         TEXT PRIMARY KEY,
	collection TEXT NOT NULL REFERENCES collections(id) ON DELETE CASCADE,
	name       TEXT NOT NULL,
	sha256     TEXT NOT NULL,
	size       INTEGER NOT NULL,
	state      TEXT NOT NULL,
	reason     TEXT NOT NULL DEFAULT '',
	warning    TEXT NOT NULL DEFAULT '',
	title      TEXT NOT NULL DEFAULT '',
	language   TEXT NOT NULL DEFAULT '',
	pages      INTEGER NOT NULL DEFAULT 0,
	passages   INTEGER NOT NULL DEFAULT 0,
	labels     TEXT NOT NULL DEFAULT '[]',
	added      TEXT NOT NULL,
	changed    TEXT NOT NULL,
	UNIQUE (collection, sha256)
) STRICT;
CREATE INDEX documents_by_state ON documents (state);
CREATE INDEX documents_by_hash ON documents (sha256);

CREATE TABLE pages (
	sha256 TEXT NOT NULL,
	number INTEGER NOT NULL,
	data   BLOB NOT NULL,
	PRIMARY KEY (sha256, number)
) STRICT, WITHOUT ROWID;

CREATE TABLE measurements (
	id         TEXT PRIMARY KEY,
	collection TEXT NOT NULL REFERENCES collections(id) ON DELETE CASCADE,
	created    TEXT NOT NULL,
	summary    TEXT NOT NULL,
	data       BLOB NOT NULL
) STRICT;
`, `
ALTER TABLE documents ADD COLUMN scores TEXT NOT NULL DEFAULT '[]';

CREATE TABLE corrections (
	page    TEXT PRIMARY KEY, -- the key of its content
	changed TEXT NOT NULL,
	data    TEXT NOT NULL
) STRICT, WITHOUT ROWID;
`, `
ALTER TABLE collections ADD COLUMN glossary TEXT NOT NULL DEFAULT '[]';
ALTER TABLE collections ADD COLUMN style TEXT NOT NULL DEFAULT '{}';

CREATE TABLE abbreviations (
	document TEXT NOT NULL REFERENCES documents(id) ON DELETE CASCADE,
	term     TEXT NOT NULL,
	means    TEXT NOT NULL,
	PRIMARY KEY (document, term, means)
) STRICT, WITHOUT ROWID;

CREATE TABLE unknown_words (
	collection TEXT NOT NULL REFERENCES collections(id) ON DELETE CASCADE,
	word       TEXT NOT NULL,
	asked      INTEGER NOT NULL,
	question   TEXT NOT NULL, -- the last one with it
	PRIMARY KEY (collection, word)
) STRICT, WITHOUT ROWID;

CREATE TABLE vectors ( -- of outside models, by content
	model  TEXT NOT NULL,
	sha256 TEXT NOT NULL,
	vector BLOB NOT NULL,
	PRIMARY KEY (model, sha256)
) STRICT, WITHOUT ROWID;

CREATE TABLE spending ( -- on outside models
	collection TEXT NOT NULL REFERENCES collections(id) ON DELETE CASCADE,
	day        TEXT NOT NULL,
	tokens     INTEGER NOT NULL,
	paid       REAL NOT NULL,
	PRIMARY KEY (collection, day)
) STRICT, WITHOUT ROWID;

CREATE TABLE conversations (
	id         TEXT PRIMARY KEY,
	collection TEXT NOT NULL REFERENCES collections(id) ON DELETE CASCADE,
	created    TEXT NOT NULL,
	changed    TEXT NOT NULL
) STRICT;

CREATE TABLE turns (
	conversation TEXT NOT NULL REFERENCES conversations(id) ON DELETE CASCADE,
	number       INTEGER NOT NULL,
	asked        TEXT NOT NULL,
	question     TEXT NOT NULL,
	answer       TEXT NOT NULL,
	PRIMARY KEY (conversation, number)
) STRICT, WITHOUT ROWID;
`, `
CREATE TABLE tags ( -- of all versions of a document
	collection TEXT NOT NULL REFERENCES collections(id) ON DELETE CASCADE,
	name       TEXT NOT NULL,
	tag        TEXT NOT NULL,
	PRIMARY KEY (collection, name, tag)
) STRICT, WITHOUT ROWID;
`, `
ALTER TABLE collections ADD COLUMN lessons TEXT NOT NULL DEFAULT '[]';
`, `
ALTER TABLE documents ADD COLUMN encoded INTEGER NOT NULL DEFAULT 0; -- passages that the index has vectors of

DROP TABLE vectors; -- of outside models alone, and eight times as large
CREATE TABLE vectors ( -- of passages, by the hash of encoder and text
	hash   BLOB PRIMARY KEY,
	vector BLOB NOT NULL -- a byte a number
) STRICT, WITHOUT ROWID;
`, `
CREATE TABLE principals ( -- people, and programs with a key
	id            TEXT PRIMARY KEY,
	name          TEXT NOT NULL UNIQUE COLLATE NOCASE,
	kind          TEXT NOT NULL,
	secret        BLOB NOT NULL, -- hash of the key, or of the passphrase
	subject       TEXT NOT NULL DEFAULT '', -- issuer and subject of one who signs in elsewhere
	administrator INTEGER NOT NULL,
	created       TEXT NOT NULL,
	expires       TEXT NOT NULL DEFAULT '',
	used          TEXT NOT NULL DEFAULT ''
) STRICT;
CREATE UNIQUE INDEX keys_by_secret ON principals (secret) WHERE kind = 'key';
CREATE UNIQUE INDEX people_by_subject ON principals (subject) WHERE subject != '';

CREATE TABLE rights ( -- of principals in collections
	principal  TEXT NOT NULL REFERENCES principals(id) ON DELETE CASCADE,
	collection TEXT NOT NULL REFERENCES collections(id) ON DELETE CASCADE,
	holds      INTEGER NOT NULL,
	PRIMARY KEY (principal, collection)
) STRICT, WITHOUT ROWID;

CREATE TABLE sessions (
	hash    BLOB PRIMARY KEY,
	person  TEXT NOT NULL REFERENCES principals(id) ON DELETE CASCADE,
	created TEXT NOT NULL,
	used    TEXT NOT NULL
) STRICT, WITHOUT ROWID;

CREATE TABLE audit (
	number INTEGER PRIMARY KEY,
	at     TEXT NOT NULL,
	entry  TEXT NOT NULL -- JSON, with the hash of the entry before
) STRICT;
CREATE TABLE audit_start ( -- the last entry that was let go of, and its hash
	number INTEGER NOT NULL,
	sum    TEXT NOT NULL
) STRICT;
INSERT INTO audit_start VALUES (0, '');
CREATE TRIGGER audit_stays BEFORE UPDATE ON audit BEGIN SELECT RAISE(ABORT, 'the audit is only added to'); END;
CREATE TRIGGER audit_kept BEFORE DELETE ON audit WHEN OLD.number > (SELECT number FROM audit_start)
	BEGIN SELECT RAISE(ABORT, 'the audit is only added to'); END;

ALTER TABLE documents ADD COLUMN removed TEXT NOT NULL DEFAULT ''; -- when, for one in the bin
ALTER TABLE documents ADD COLUMN was TEXT NOT NULL DEFAULT ''; -- its state before
ALTER TABLE pages ADD COLUMN sum INTEGER; -- CRC-32C of data
ALTER TABLE collections ADD COLUMN sharing TEXT NOT NULL DEFAULT '{}';
ALTER TABLE conversations ADD COLUMN owner TEXT NOT NULL DEFAULT ''; -- the principal who asked
`, `
CREATE TABLE question_sets (
	id         TEXT PRIMARY KEY,
	collection TEXT NOT NULL REFERENCES collections(id) ON DELETE CASCADE,
	name       TEXT NOT NULL,
	version    INTEGER NOT NULL,
	created    TEXT NOT NULL,
	changed    TEXT NOT NULL,
	UNIQUE (collection, name)
) STRICT;

CREATE TABLE set_questions ( -- each as it was from one version of the set to another
	of_set TEXT NOT NULL REFERENCES question_sets(id) ON DELETE CASCADE,
	id     TEXT NOT NULL,
	since  INTEGER NOT NULL,
	until  INTEGER NOT NULL DEFAULT 0, -- the version that no longer has it so; 0 for none
	place  INTEGER NOT NULL,
	data   TEXT NOT NULL,
	PRIMARY KEY (of_set, id, since)
) STRICT, WITHOUT ROWID;

CREATE TABLE bench ( -- trials, earlier set-ups, sweeps and what is watched for
	collection TEXT NOT NULL REFERENCES collections(id) ON DELETE CASCADE,
	kind       TEXT NOT NULL,
	name       TEXT NOT NULL,
	changed    TEXT NOT NULL,
	data       TEXT NOT NULL,
	PRIMARY KEY (collection, kind, name)
) STRICT, WITHOUT ROWID;

CREATE TABLE verdicts ( -- of people on answers
	measurement TEXT NOT NULL REFERENCES measurements(id) ON DELETE CASCADE,
	question    TEXT NOT NULL,
	judge       TEXT NOT NULL,
	at          TEXT NOT NULL,
	data        TEXT NOT NULL,
	PRIMARY KEY (measurement, question, judge)
) STRICT, WITHOUT ROWID;

CREATE TABLE reports ( -- of readers, on answers that were wrong or missing
	id         INTEGER PRIMARY KEY,
	collection TEXT NOT NULL REFERENCES collections(id) ON DELETE CASCADE,
	at         TEXT NOT NULL,
	question   TEXT NOT NULL,
	data       TEXT NOT NULL
) STRICT;
CREATE INDEX reports_by_collection ON reports (collection, at);
`, `
ALTER TABLE collections ADD COLUMN description TEXT NOT NULL DEFAULT '';
ALTER TABLE collections ADD COLUMN paused INTEGER NOT NULL DEFAULT 0; -- its intake waits
ALTER TABLE reports ADD COLUMN done INTEGER NOT NULL DEFAULT 0; -- an owner has seen to it

ALTER TABLE principals ADD COLUMN asks INTEGER NOT NULL DEFAULT 0; -- may ask, and nothing else

CREATE TABLE fields ( -- of all versions of a document
	collection TEXT NOT NULL REFERENCES collections(id) ON DELETE CASCADE,
	name       TEXT NOT NULL,
	field      TEXT NOT NULL,
	value      TEXT NOT NULL,
	PRIMARY KEY (collection, name, field)
) STRICT, WITHOUT ROWID;

CREATE TABLE sources ( -- where documents are fetched from, again and again
	id         TEXT PRIMARY KEY,
	collection TEXT NOT NULL REFERENCES collections(id) ON DELETE CASCADE,
	data       TEXT NOT NULL,
	state      TEXT NOT NULL DEFAULT '{}' -- what is known of what is there
) STRICT;
`, `
CREATE TABLE hooks ( -- programs that are told what happens in a collection
	collection TEXT NOT NULL REFERENCES collections(id) ON DELETE CASCADE,
	name       TEXT NOT NULL,
	events     TEXT NOT NULL, -- between commas
	problem    TEXT NOT NULL DEFAULT '', -- of the last delivery, if it failed
	PRIMARY KEY (collection, name)
) STRICT, WITHOUT ROWID;

CREATE TABLE deliveries ( -- that are still to be made, in their order
	number     INTEGER PRIMARY KEY AUTOINCREMENT,
	collection TEXT NOT NULL REFERENCES collections(id) ON DELETE CASCADE,
	hook       TEXT NOT NULL,
	id         TEXT NOT NULL, -- the same each time that it is tried
	body       TEXT NOT NULL,
	tries      INTEGER NOT NULL DEFAULT 0,
	due        TEXT NOT NULL DEFAULT ''
) STRICT;

-- What happens to a document and that it is to be told are written in one step.
CREATE TRIGGER document_told AFTER UPDATE OF state ON documents
WHEN NEW.state != OLD.state AND NEW.state IN ('ready', 'failed', 'replaced', 'removed')
BEGIN
	INSERT INTO deliveries (collection, hook, id, body)
	SELECT NEW.collection, h.name, 'msg_' || lower(hex(randomblob(12))), json_object(
		'type', 'document.' || NEW.state, 'timestamp', NEW.changed, 'data', json_object(
			'collection', c.name, 'document', NEW.name, 'document_id', NEW.id, 'pages', NEW.pages, 'reason', NEW.reason))
	FROM hooks h JOIN collections c ON c.id = h.collection
	WHERE h.collection = NEW.collection AND instr(h.events, ',document.' || NEW.state || ',');
END;

CREATE TABLE digests ( -- what documents hold at a glance; can be made again
	document TEXT PRIMARY KEY REFERENCES documents(id) ON DELETE CASCADE,
	version  INTEGER NOT NULL, -- of what makes them
	data     BLOB NOT NULL
) STRICT, WITHOUT ROWID;

CREATE TABLE sheets ( -- questions that documents answer; can be made again
	document TEXT PRIMARY KEY REFERENCES documents(id) ON DELETE CASCADE,
	data     TEXT NOT NULL
) STRICT, WITHOUT ROWID;

CREATE TABLE digest_edits ( -- of lines of digests, in all versions of a document
	collection TEXT NOT NULL REFERENCES collections(id) ON DELETE CASCADE,
	name       TEXT NOT NULL,
	line       TEXT NOT NULL, -- its hash
	data       TEXT NOT NULL,
	PRIMARY KEY (collection, name, line)
) STRICT, WITHOUT ROWID;

CREATE TABLE replies ( -- to requests that named a key, so that one sent again is not done again
	caller  TEXT NOT NULL,
	key     TEXT NOT NULL,
	request TEXT NOT NULL, -- its hash
	at      TEXT NOT NULL,
	status  INTEGER NOT NULL,
	kind    TEXT NOT NULL,
	body    BLOB NOT NULL,
	PRIMARY KEY (caller, key)
) STRICT, WITHOUT ROWID;
`, `
CREATE TABLE position ( -- in the order of changes that several hosts share; no row for one alone
	one     INTEGER PRIMARY KEY CHECK (one = 1),
	cluster TEXT NOT NULL,
	number  INTEGER NOT NULL -- of the last change that is in these records
) STRICT;

CREATE TABLE placement ( -- which hosts have which shard; the first one writes it
	shard INTEGER PRIMARY KEY,
	hosts TEXT NOT NULL
) STRICT;

CREATE TABLE shards ( -- of collections, as they are searched
	collection TEXT NOT NULL REFERENCES collections(id) ON DELETE CASCADE,
	shard      INTEGER NOT NULL,
	generation INTEGER NOT NULL,
	manifest   TEXT NOT NULL,
	totals     TEXT NOT NULL,
	PRIMARY KEY (collection, shard)
) STRICT, WITHOUT ROWID;

ALTER TABLE documents ADD COLUMN revision INTEGER NOT NULL DEFAULT 0; -- grows when its passages are others
ALTER TABLE documents ADD COLUMN taken INTEGER NOT NULL DEFAULT -1; -- the revision that a shard has; -1 for none
CREATE INDEX documents_stale ON documents (added) WHERE state IN ('indexing', 'ready') AND revision != taken;
CREATE INDEX documents_unencoded ON documents (added) WHERE state = 'ready' AND encoded < passages;

CREATE TABLE indexed ( -- documents that are in a shard; some of them are gone already
	document   TEXT PRIMARY KEY,
	collection TEXT NOT NULL REFERENCES collections(id) ON DELETE CASCADE,
	shard      INTEGER NOT NULL
) STRICT, WITHOUT ROWID;

-- The same as before, but that what it writes is the same on every host.
DROP TRIGGER document_told;
CREATE TRIGGER document_told AFTER UPDATE OF state ON documents
WHEN NEW.state != OLD.state AND NEW.state IN ('ready', 'failed', 'replaced', 'removed')
BEGIN
	INSERT INTO deliveries (collection, hook, id, body)
	SELECT NEW.collection, h.name, 'msg_' || NEW.id || '_' || NEW.state || '_' || replace(replace(replace(NEW.changed, '-', ''), ':', ''), '.', ''), json_object(
		'type', 'document.' || NEW.state, 'timestamp', NEW.changed, 'data', json_object(
			'collection', c.name, 'document', NEW.name, 'document_id', NEW.id, 'pages', NEW.pages, 'reason', NEW.reason))
	FROM hooks h JOIN collections c ON c.id = h.collection
	WHERE h.collection = NEW.collection AND instr(h.events, ',document.' || NEW.state || ',') ORDER BY h.name;
END;
`, `
CREATE INDEX documents_by_name ON documents (collection, name);

CREATE INDEX documents_dead ON documents (collection) WHERE state IN ('removed', 'replaced', 'failed') AND taken != -1;

CREATE TABLE orphans ( -- documents that a shard has and whose records are gone
	document   TEXT PRIMARY KEY,
	collection TEXT NOT NULL REFERENCES collections(id) ON DELETE CASCADE,
	name       TEXT NOT NULL
) STRICT, WITHOUT ROWID;
CREATE TRIGGER document_orphaned AFTER DELETE ON documents
WHEN OLD.taken != -1 AND EXISTS (SELECT 1 FROM collections WHERE id = OLD.collection)
BEGIN
	INSERT OR REPLACE INTO orphans (document, collection, name) VALUES (OLD.id, OLD.collection, OLD.name);
END;

-- Shards that may have documents of which nothing else is known begin anew. Hosts of the version before
-- still write into indexed, so it stays; nothing reads it.
UPDATE documents SET taken = -1 WHERE taken != -1 AND collection IN (SELECT collection FROM indexed WHERE document NOT IN (SELECT id FROM documents));
UPDATE shards SET generation = generation + 1, manifest = '', totals = '{}' WHERE collection IN (SELECT collection FROM indexed WHERE document NOT IN (SELECT id FROM documents));
`}

func (s *Store) migrate(ctx context.Context) error {
	var version int
	if err := s.db.QueryRowContext(ctx, "PRAGMA user_version").Scan(&version); err != nil {
		return err
	}
	if version > len(schema) {
		return fmt.Errorf("it was written by a newer version of the program (schema %d, this one knows %d)", version, len(schema))
	}
	if version > 0 && version < len(schema) {
		if err := s.copyBefore(ctx, version+1); err != nil {
			return err
		}
	}
	for ; version < len(schema); version++ {
		err := s.alone(ctx, func(tx *Tx) error {
			if _, err := tx.ExecContext(ctx, schema[version]); err != nil {
				return err
			}
			_, err := tx.ExecContext(ctx, fmt.Sprintf("PRAGMA user_version = %d", version+1))
			return err
		})
		if err != nil {
			return err
		}
	}
	return nil
}

// copyBefore keeps the records as they are before they are changed for a newer program. Records of
// which a part is damaged are copied as they stand on the disk.
func (s *Store) copyBefore(ctx context.Context, version int) error {
	path := filepath.Join(s.dir, fmt.Sprintf("%s.before-%d", Records, version))
	if err := os.Remove(path); err != nil && !errors.Is(err, os.ErrNotExist) {
		return err
	}
	if _, err := s.db.ExecContext(ctx, "VACUUM INTO ?", path); err == nil {
		return nil
	}
	if err := os.Remove(path); err != nil && !errors.Is(err, os.ErrNotExist) {
		return err
	}
	if _, err := s.db.ExecContext(ctx, "PRAGMA wal_checkpoint(TRUNCATE)"); err != nil {
		return err
	}
	data, err := os.ReadFile(filepath.Join(s.dir, Records))
	if err != nil {
		return err
	}
	return os.WriteFile(path, data, 0o600)
}

// inTx runs do in a transaction, committed if do returns nil. In a store that is shared do may be
// run several times.
func (s *Store) inTx(ctx context.Context, do func(*Tx) error) error {
	if s.shared != nil {
		return s.write(ctx, do)
	}
	return s.alone(ctx, do)
}

// alone runs do in a transaction of this store alone.
func (s *Store) alone(ctx context.Context, do func(*Tx) error) error {
	tx, err := s.db.BeginTx(ctx, nil)
	if err != nil {
		return err
	}
	defer tx.Rollback()
	if err := do(&Tx{Tx: tx}); err != nil {
		return err
	}
	return tx.Commit()
}

// exec runs one statement in a transaction.
func (s *Store) exec(ctx context.Context, query string, args ...any) (result sql.Result, err error) {
	if s.shared == nil {
		return s.db.ExecContext(ctx, query, args...)
	}
	err = s.write(ctx, func(tx *Tx) error {
		result, err = tx.ExecContext(ctx, query, args...)
		return err
	})
	return result, err
}

// one returns ErrNotFound if a statement changed nothing.
func one(result sql.Result, err error) error {
	if err != nil {
		return err
	}
	if n, err := result.RowsAffected(); err != nil || n == 0 {
		return errors.Join(err, ErrNotFound)
	}
	return nil
}
