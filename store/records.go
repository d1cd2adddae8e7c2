package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"hash/crc32"
	"math"
	"time"
)

// A Collection is documents that share one index.
type Collection struct {
	ID      string
	Name    string
	Created time.Time
	Recipe  json.RawMessage
	Sharing json.RawMessage

	Description string
	Paused      bool // its intake waits
}

// A State is how far a document has come.
type State string

// States of a document, in their order.
const (
	Queued   State = "queued"
	Reading  State = "reading"
	Indexing State = "indexing"
	Ready    State = "ready"
	Failed   State = "failed"
	Replaced State = "replaced" // a newer file of the same name is ready
	Removed  State = "removed"  // in the bin
)

// A Document is one version of one file of a collection.
type Document struct {
	ID         string
	Collection string // id
	Name       string
	SHA256     string
	Size       int64
	State      State
	Reason     string // why it failed
	Warning    string // what is amiss though it is ready
	Title      string
	Language   string
	Pages      int
	Passages   int
	Encoded    int // passages that the index has vectors of
	Labels     []string
	Scores     []int // of its pages, 0 to 100
	Tags       []string
	Fields     map[string]string // such as its author
	Added      time.Time
	Changed    time.Time
	Removed    time.Time // for one in the bin
	Was        State     // before it was removed
	Revision   int       // grows when its passages are others
	Taken      int       // the revision that a shard has, on several hosts; -1 for none
}

// Current tells whether it is a collection's document, not an older version or one in the bin.
func (d *Document) Current() bool { return d.State != Replaced && d.State != Removed }

const timeFormat = "2006-01-02T15:04:05.000Z07:00"

func now() string { return time.Now().UTC().Format(timeFormat) }

// CreateCollection adds a collection.
func (s *Store) CreateCollection(ctx context.Context, name string, recipe any) (*Collection, error) {
	data, err := json.Marshal(recipe)
	if err != nil {
		return nil, fmt.Errorf("store: %w", err)
	}
	_, err = s.exec(ctx, "INSERT INTO collections (id, name, created, recipe) VALUES (?, ?, ?, ?)", NewID(), name, now(), string(data))
	if err := unique(err, "create collection"); err != nil {
		return nil, err
	}
	return s.Collection(ctx, name)
}

// Collection returns the collection of that name.
func (s *Store) Collection(ctx context.Context, name string) (*Collection, error) {
	all, err := s.collections(ctx, "WHERE name = ?", name)
	if err != nil {
		return nil, err
	}
	if len(all) == 0 {
		return nil, ErrNotFound
	}
	return &all[0], nil
}

// Collections returns all collections by name.
func (s *Store) Collections(ctx context.Context) ([]Collection, error) {
	return s.collections(ctx, "")
}

func (s *Store) collections(ctx context.Context, where string, args ...any) ([]Collection, error) {
	rows, err := s.db.QueryContext(ctx, "SELECT id, name, created, recipe, sharing, description, paused FROM collections "+where+" ORDER BY name", args...)
	if err != nil {
		return nil, fmt.Errorf("store: collections: %w", err)
	}
	defer rows.Close()
	var out []Collection
	for rows.Next() {
		var c Collection
		var created, recipe, sharing string
		if err := rows.Scan(&c.ID, &c.Name, &created, &recipe, &sharing, &c.Description, &c.Paused); err != nil {
			return nil, fmt.Errorf("store: collections: %w", err)
		}
		c.Created, _ = time.Parse(timeFormat, created)
		c.Recipe, c.Sharing = json.RawMessage(recipe), json.RawMessage(sharing)
		out = append(out, c)
	}
	return out, rows.Err()
}

// SetRecipe records by which recipe a collection is indexed.
func (s *Store) SetRecipe(ctx context.Context, id string, recipe any) error {
	data, err := json.Marshal(recipe)
	if err != nil {
		return fmt.Errorf("store: recipe: %w", err)
	}
	return one(s.exec(ctx, "UPDATE collections SET recipe = ? WHERE id = ?", string(data), id))
}

// SetSharing records who else sees what is asked in a collection.
func (s *Store) SetSharing(ctx context.Context, id string, sharing []byte) error {
	return one(s.exec(ctx, "UPDATE collections SET sharing = ? WHERE id = ?", string(sharing), id))
}

// SetDescription records what a collection is for.
func (s *Store) SetDescription(ctx context.Context, id, description string) error {
	return one(s.exec(ctx, "UPDATE collections SET description = ? WHERE id = ?", description, id))
}

// SetPaused records whether a collection's intake waits.
func (s *Store) SetPaused(ctx context.Context, id string, paused bool) error {
	return one(s.exec(ctx, "UPDATE collections SET paused = ? WHERE id = ?", paused, id))
}

// RemoveCollection removes a collection and its documents' records.
func (s *Store) RemoveCollection(ctx context.Context, id string) error {
	return one(s.exec(ctx, "DELETE FROM collections WHERE id = ?", id))
}

const documentColumns = "id, collection, name, sha256, size, state, reason, warning, title, language, pages, passages, encoded, labels, scores, added, changed, removed, was, revision, taken, " +
	"(SELECT json_group_array(tag) FROM (SELECT tag FROM tags WHERE tags.collection = documents.collection AND tags.name = documents.name ORDER BY tag)), " +
	"(SELECT json_group_object(field, value) FROM fields WHERE fields.collection = documents.collection AND fields.name = documents.name)"

// AddDocument queues a file for intake. If the collection has the content
// already it returns that document and false; one that failed is queued anew.
func (s *Store) AddDocument(ctx context.Context, collection *Collection, name, sum string, size int64) (doc *Document, added bool, err error) {
	err = s.inTx(ctx, func(tx *Tx) error {
		added = false
		var id string
		var state State
		err := tx.QueryRowContext(ctx, "SELECT id, state FROM documents WHERE collection = ? AND sha256 = ?", collection.ID, sum).Scan(&id, &state)
		switch {
		case errors.Is(err, sql.ErrNoRows):
			id, added = documentID(collection.Name, sum), true
			_, err = tx.ExecContext(ctx, `INSERT INTO documents (id, collection, name, sha256, size, state, added, changed)
				VALUES (?, ?, ?, ?, ?, ?, ?, ?)`, id, collection.ID, name, sum, size, Queued, now(), now())
		case err == nil && (state == Failed || state == Replaced || state == Removed):
			added = true
			_, err = tx.ExecContext(ctx, "UPDATE documents SET state = ?, name = ?, reason = '', warning = '', removed = '', was = '', added = ?, changed = ? WHERE id = ?", Queued, name, now(), now(), id)
		}
		if err != nil {
			return err
		}
		doc, err = scanDocument(tx.QueryRowContext(ctx, "SELECT "+documentColumns+" FROM documents WHERE id = ?", id))
		return err
	})
	if err != nil {
		return nil, false, fmt.Errorf("store: add document: %w", err)
	}
	return doc, added, nil
}

func scanDocument(row interface{ Scan(...any) error }) (*Document, error) {
	var d Document
	var labels, scores, added, changed, removed, tags, fields string
	err := row.Scan(&d.ID, &d.Collection, &d.Name, &d.SHA256, &d.Size, &d.State, &d.Reason, &d.Warning, &d.Title,
		&d.Language, &d.Pages, &d.Passages, &d.Encoded, &labels, &scores, &added, &changed, &removed, &d.Was, &d.Revision, &d.Taken, &tags, &fields)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, ErrNotFound
	}
	if err != nil {
		return nil, err
	}
	d.Added, _ = time.Parse(timeFormat, added)
	d.Changed, _ = time.Parse(timeFormat, changed)
	d.Removed, _ = time.Parse(timeFormat, removed)
	return &d, errors.Join(json.Unmarshal([]byte(labels), &d.Labels), json.Unmarshal([]byte(scores), &d.Scores), json.Unmarshal([]byte(tags), &d.Tags), json.Unmarshal([]byte(fields), &d.Fields))
}

// Document returns a document by id.
func (s *Store) Document(ctx context.Context, id string) (*Document, error) {
	return scanDocument(s.db.QueryRowContext(ctx, "SELECT "+documentColumns+" FROM documents WHERE id = ?", id))
}

// DocumentNamed returns the document that an id or a file name stands for. An id comes first,
// so that no file can take its place by being named like it; a name stands for the
// version that is ready, or the newest if none is.
func (s *Store) DocumentNamed(ctx context.Context, collection, name string) (*Document, error) {
	return scanDocument(s.db.QueryRowContext(ctx, "SELECT "+documentColumns+` FROM documents
		WHERE collection = ? AND (name = ? OR id = ?) AND state != 'removed'
		ORDER BY id = ? DESC, state = 'ready' DESC, state = 'replaced', added DESC LIMIT 1`, collection, name, name, name))
}

// Documents returns a collection's documents by name.
func (s *Store) Documents(ctx context.Context, collection string) ([]Document, error) {
	return s.documents(ctx, "WHERE collection = ? ORDER BY name, added", collection)
}

// CountDocuments counts a collection's documents with their versions.
func (s *Store) CountDocuments(ctx context.Context, collection string) (n int, err error) {
	err = s.db.QueryRowContext(ctx, "SELECT count(*) FROM documents WHERE collection = ?", collection).Scan(&n)
	return n, err
}

// Unfinished returns the documents that intake still has to do, oldest first.
func (s *Store) Unfinished(ctx context.Context) ([]Document, error) {
	return s.documents(ctx, "WHERE state IN ('queued', 'reading', 'indexing') ORDER BY added, id")
}

func (s *Store) documents(ctx context.Context, where string, args ...any) ([]Document, error) {
	rows, err := s.db.QueryContext(ctx, "SELECT "+documentColumns+" FROM documents "+where, args...)
	if err != nil {
		return nil, fmt.Errorf("store: documents: %w", err)
	}
	defer rows.Close()
	var out []Document
	for rows.Next() {
		d, err := scanDocument(rows)
		if err != nil {
			return nil, fmt.Errorf("store: documents: %w", err)
		}
		out = append(out, *d)
	}
	return out, rows.Err()
}

// SetState moves a document on; reason says why it failed.
func (s *Store) SetState(ctx context.Context, id string, state State, reason string) error {
	return one(s.exec(ctx, "UPDATE documents SET state = ?, reason = ?, changed = ? WHERE id = ?", state, reason, now(), id))
}

// KeepReady has a document stay ready as it was read before; warning says what is amiss.
func (s *Store) KeepReady(ctx context.Context, id, warning string) error {
	return one(s.exec(ctx, "UPDATE documents SET state = ?, reason = '', warning = ?, changed = ? WHERE id = ?", Ready, warning, now(), id))
}

// SetRead records what reading found, with the document's pages, and moves it
// on to indexing.
func (s *Store) SetRead(ctx context.Context, d *Document, pages [][]byte) error {
	labels, err := json.Marshal(d.Labels)
	if err != nil {
		return fmt.Errorf("store: %w", err)
	}
	scores, err := json.Marshal(d.Scores)
	if err != nil {
		return fmt.Errorf("store: %w", err)
	}
	return s.inTx(ctx, func(tx *Tx) error {
		if _, err := tx.ExecContext(ctx, "DELETE FROM pages WHERE sha256 = ?", d.SHA256); err != nil {
			return err
		}
		if err := dropDigests(ctx, tx, "id", d.ID); err != nil {
			return err
		}
		insert, err := tx.PrepareContext(ctx, "INSERT INTO pages (sha256, number, data, sum) VALUES (?, ?, ?, ?)")
		if err != nil {
			return err
		}
		defer insert.Close()
		for i, data := range pages {
			if _, err := insert.ExecContext(ctx, d.SHA256, i+1, data, checksum(data)); err != nil {
				return err
			}
		}
		return one(tx.ExecContext(ctx, `UPDATE documents SET state = ?, warning = ?, title = ?, language = ?, pages = ?, labels = ?, scores = ?, revision = revision + 1, changed = ? WHERE id = ?`,
			Indexing, d.Warning, d.Title, d.Language, d.Pages, string(labels), string(scores), now(), d.ID))
	})
}

// Counts are how many passages the index has of a document, and of how many the vectors.
type Counts struct{ Passages, Encoded int }

// SetReady marks documents as ready, with their numbers of passages, and what
// they replace as replaced.
func (s *Store) SetReady(ctx context.Context, counts map[string]Counts, replaced []string) error {
	return s.inTx(ctx, func(tx *Tx) error {
		for id, n := range counts {
			if _, err := tx.ExecContext(ctx, "UPDATE documents SET state = ?, passages = ?, encoded = ?, changed = ? WHERE id = ?", Ready, n.Passages, n.Encoded, now(), id); err != nil {
				return err
			}
		}
		for _, id := range replaced {
			if _, err := tx.ExecContext(ctx, "UPDATE documents SET state = ?, changed = ? WHERE id = ?", Replaced, now(), id); err != nil {
				return err
			}
		}
		return nil
	})
}

// SetEncoded records of how many passages of documents the index has vectors now.
func (s *Store) SetEncoded(ctx context.Context, counts map[string]int) error {
	return s.inTx(ctx, func(tx *Tx) error {
		for id, n := range counts {
			if _, err := tx.ExecContext(ctx, "UPDATE documents SET encoded = ? WHERE id = ?", n, id); err != nil {
				return err
			}
		}
		return nil
	})
}

// Unencoded returns ready documents of which the index lacks vectors, the newest first, at
// most so many.
func (s *Store) Unencoded(ctx context.Context, most int) ([]Document, error) {
	return s.documents(ctx, "WHERE state = 'ready' AND encoded < passages ORDER BY added DESC, id LIMIT ?", most)
}

// PutIntoBin removes all versions of a document, for now. It returns them.
func (s *Store) PutIntoBin(ctx context.Context, collection, name string) ([]Document, error) {
	at := now()
	err := s.inTx(ctx, func(tx *Tx) error {
		ids, err := texts(tx.QueryContext(ctx, "SELECT id FROM documents WHERE collection = ? AND name = ? AND state != 'removed'", collection, name))
		if err != nil {
			return err
		}
		for _, id := range ids {
			if _, err := tx.ExecContext(ctx, "UPDATE documents SET was = state, state = 'removed', removed = ?, changed = ? WHERE id = ?", at, at, id); err != nil {
				return fmt.Errorf("store: documents: %w", err)
			}
		}
		if len(ids) == 0 {
			return ErrNotFound
		}
		return nil
	})
	if err != nil {
		return nil, err
	}
	return s.documents(ctx, "WHERE collection = ? AND name = ? AND state = 'removed' AND removed = ? ORDER BY added", collection, name, at)
}

// Bin returns what is in a collection's bin, the latest first.
func (s *Store) Bin(ctx context.Context, collection string) ([]Document, error) {
	return s.documents(ctx, "WHERE collection = ? AND state = 'removed' ORDER BY removed DESC, name, added", collection)
}

// TakeOut gives a document in the bin the state that it is to have from now on.
func (s *Store) TakeOut(ctx context.Context, id string, state State) error {
	return one(s.exec(ctx, "UPDATE documents SET state = ?, removed = '', was = '', revision = revision + 1, changed = ? WHERE id = ?", state, now(), id))
}

// BinnedBefore returns what has been in a bin since before a time.
func (s *Store) BinnedBefore(ctx context.Context, before time.Time) ([]Document, error) {
	return s.documents(ctx, "WHERE state = 'removed' AND removed < ?", stamp(before))
}

// RemoveDocument removes a document's record for good, and its tags with the last version.
func (s *Store) RemoveDocument(ctx context.Context, id string) error {
	return s.inTx(ctx, func(tx *Tx) error {
		var collection, name string
		var versions int
		err := tx.QueryRowContext(ctx, "SELECT d.collection, d.name, (SELECT count(*) FROM documents o WHERE o.collection = d.collection AND o.name = d.name) FROM documents d WHERE d.id = ?", id).Scan(&collection, &name, &versions)
		if errors.Is(err, sql.ErrNoRows) {
			return ErrNotFound
		}
		if err == nil {
			err = one(tx.ExecContext(ctx, "DELETE FROM documents WHERE id = ?", id))
		}
		if err != nil || versions > 1 {
			return err
		}
		for _, of := range []string{"fields", "tags"} {
			if _, err := tx.ExecContext(ctx, "DELETE FROM "+of+" WHERE collection = ? AND name = ?", collection, name); err != nil {
				return fmt.Errorf("store: %s: %w", of, err)
			}
		}
		return nil
	})
}

// SetTags gives the documents of a name, in all versions, these tags and no others.
func (s *Store) SetTags(ctx context.Context, collection, name string, tags []string) error {
	return s.inTx(ctx, func(tx *Tx) error {
		if _, err := tx.ExecContext(ctx, "DELETE FROM tags WHERE collection = ? AND name = ?", collection, name); err != nil {
			return fmt.Errorf("store: tags: %w", err)
		}
		for _, tag := range tags {
			if _, err := tx.ExecContext(ctx, "INSERT INTO tags (collection, name, tag) VALUES (?, ?, ?)", collection, name, tag); err != nil {
				return fmt.Errorf("store: tags: %w", err)
			}
		}
		return nil
	})
}

// ErrDamaged says that what is kept is not what was kept: its checksum differs.
var ErrDamaged = errors.New("what was kept is damaged")

// castagnoli is what checksums of pages are made with: CRC-32C.
var castagnoli = crc32.MakeTable(crc32.Castagnoli)

func checksum(data []byte) int64 { return int64(crc32.Checksum(data, castagnoli)) }

// scanPage reads a page and holds it to its checksum, which those lack that older programs kept.
func scanPage(row interface{ Scan(...any) error }) ([]byte, error) {
	var number int
	var data []byte
	var sum sql.NullInt64
	if err := row.Scan(&number, &data, &sum); err != nil {
		return nil, err
	}
	if sum.Valid && sum.Int64 != checksum(data) {
		return nil, fmt.Errorf("page %d: %w", number, ErrDamaged)
	}
	return data, nil
}

// Page returns the stored form of one page.
func (s *Store) Page(ctx context.Context, sum string, number int) ([]byte, error) {
	row := s.db.QueryRowContext(ctx, "SELECT number, data, sum FROM pages WHERE sha256 = ? AND number = ?", sum, number)
	data, err := scanPage(row)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, ErrNotFound
	}
	return data, err
}

// Pages returns the stored forms of all pages in order.
func (s *Store) Pages(ctx context.Context, sum string) ([][]byte, error) {
	return s.PagesBetween(ctx, sum, 1, math.MaxInt32)
}

// PagesBetween returns the stored forms of the pages from first to last in order.
func (s *Store) PagesBetween(ctx context.Context, sum string, first, last int) ([][]byte, error) {
	rows, err := s.db.QueryContext(ctx, "SELECT number, data, sum FROM pages WHERE sha256 = ? AND number BETWEEN ? AND ? ORDER BY number", sum, first, last)
	if err != nil {
		return nil, fmt.Errorf("store: pages: %w", err)
	}
	defer rows.Close()
	var out [][]byte
	for rows.Next() {
		data, err := scanPage(rows)
		if err != nil {
			return nil, fmt.Errorf("store: pages: %w", err)
		}
		out = append(out, data)
	}
	return out, rows.Err()
}

// AddMeasurement keeps a measurement: a summary for lists and the whole.
func (s *Store) AddMeasurement(ctx context.Context, id, collection string, summary, data []byte) error {
	_, err := s.exec(ctx, "INSERT INTO measurements (id, collection, created, summary, data) VALUES (?, ?, ?, ?, ?)",
		id, collection, now(), string(summary), data)
	if err != nil {
		return fmt.Errorf("store: keep measurement: %w", err)
	}
	return nil
}

// A Measurement is a kept one: its summary, or the whole.
type Measurement struct {
	Collection string // id
	Data       json.RawMessage
}

// Measurements returns the summaries of a collection's measurements, the
// newest first; all of them if collection is empty.
func (s *Store) Measurements(ctx context.Context, collection string) ([]Measurement, error) {
	rows, err := s.db.QueryContext(ctx, "SELECT collection, summary FROM measurements WHERE collection = ? OR ? = '' ORDER BY created DESC, id", collection, collection)
	if err != nil {
		return nil, fmt.Errorf("store: measurements: %w", err)
	}
	defer rows.Close()
	var out []Measurement
	for rows.Next() {
		var m Measurement
		var summary string
		if err := rows.Scan(&m.Collection, &summary); err != nil {
			return nil, fmt.Errorf("store: measurements: %w", err)
		}
		m.Data = json.RawMessage(summary)
		out = append(out, m)
	}
	return out, rows.Err()
}

// Measurement returns a kept measurement.
func (s *Store) Measurement(ctx context.Context, id string) (*Measurement, error) {
	var m Measurement
	var data []byte
	err := s.db.QueryRowContext(ctx, "SELECT collection, data FROM measurements WHERE id = ?", id).Scan(&m.Collection, &data)
	if errors.Is(err, sql.ErrNoRows) {
		return nil, ErrNotFound
	}
	m.Data = data
	return &m, err
}

// SetScores records the scores of a document's pages.
func (s *Store) SetScores(ctx context.Context, id string, scores []int) error {
	data, err := json.Marshal(scores)
	if err != nil {
		return fmt.Errorf("store: %w", err)
	}
	return one(s.exec(ctx, "UPDATE documents SET scores = ?, changed = ? WHERE id = ?", string(data), now(), id))
}

// SetCorrections keeps what people changed on a page, named by its content;
// nil forgets it.
func (s *Store) SetCorrections(ctx context.Context, page string, data []byte) error {
	query, args := "INSERT OR REPLACE INTO corrections (page, changed, data) VALUES (?, ?, ?)", []any{page, now(), string(data)}
	if data == nil {
		query, args = "DELETE FROM corrections WHERE page = ?", args[:1]
	}
	if _, err := s.exec(ctx, query, args...); err != nil {
		return fmt.Errorf("store: corrections: %w", err)
	}
	return nil
}

// Corrections returns all corrections by the page that they are for.
func (s *Store) Corrections(ctx context.Context) (map[string][]byte, error) {
	rows, err := s.db.QueryContext(ctx, "SELECT page, data FROM corrections")
	if err != nil {
		return nil, fmt.Errorf("store: corrections: %w", err)
	}
	defer rows.Close()
	out := map[string][]byte{}
	for rows.Next() {
		var page, data string
		if err := rows.Scan(&page, &data); err != nil {
			return nil, fmt.Errorf("store: corrections: %w", err)
		}
		out[page] = []byte(data)
	}
	return out, rows.Err()
}
