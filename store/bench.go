package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"errors"
	"fmt"
	"time"
)

// A QuestionSet is a kept one. Its questions are kept as they were in each version.
type QuestionSet struct {
	ID        string
	Name      string
	Version   int // the newest
	Created   time.Time
	Changed   time.Time
	Questions int // of the newest version
	Drafts    int // of those
}

// A SetQuestion is a question of a set, as JSON.
type SetQuestion struct {
	ID   string
	Data json.RawMessage
}

const setColumns = `SELECT id, name, version, created, changed,
	(SELECT count(*) FROM set_questions WHERE of_set = question_sets.id AND until = 0),
	(SELECT count(*) FROM set_questions WHERE of_set = question_sets.id AND until = 0 AND data ->> 'draft' = 1)
	FROM question_sets `

// QuestionSets returns a collection's question sets by name.
func (s *Store) QuestionSets(ctx context.Context, collection string) ([]QuestionSet, error) {
	rows, err := s.db.QueryContext(ctx, setColumns+"WHERE collection = ? ORDER BY name", collection)
	if err != nil {
		return nil, fmt.Errorf("store: question sets: %w", err)
	}
	defer rows.Close()
	out := []QuestionSet{}
	for rows.Next() {
		set, err := scanSet(rows)
		if err != nil {
			return nil, fmt.Errorf("store: question sets: %w", err)
		}
		out = append(out, *set)
	}
	return out, rows.Err()
}

// QuestionSet returns a collection's question set of that name.
func (s *Store) QuestionSet(ctx context.Context, collection, name string) (*QuestionSet, error) {
	set, err := scanSet(s.db.QueryRowContext(ctx, setColumns+"WHERE collection = ? AND name = ?", collection, name))
	if errors.Is(err, sql.ErrNoRows) {
		return nil, ErrNotFound
	}
	return set, err
}

func scanSet(row interface{ Scan(...any) error }) (*QuestionSet, error) {
	var set QuestionSet
	var created, changed string
	if err := row.Scan(&set.ID, &set.Name, &set.Version, &created, &changed, &set.Questions, &set.Drafts); err != nil {
		return nil, err
	}
	set.Created, _ = time.Parse(timeFormat, created)
	set.Changed, _ = time.Parse(timeFormat, changed)
	return &set, nil
}

// Questions returns the questions of a version of a set, in their order; of the newest for 0.
func (s *Store) Questions(ctx context.Context, set string, version int) ([]SetQuestion, error) {
	where := "until = 0"
	if version > 0 {
		where = "since <= ?2 AND (until = 0 OR until > ?2)"
	}
	rows, err := s.db.QueryContext(ctx, "SELECT id, data FROM set_questions WHERE of_set = ?1 AND "+where+" ORDER BY place, id", set, version)
	if err != nil {
		return nil, fmt.Errorf("store: questions: %w", err)
	}
	defer rows.Close()
	var out []SetQuestion
	for rows.Next() {
		var q SetQuestion
		var data string
		if err := rows.Scan(&q.ID, &data); err != nil {
			return nil, fmt.Errorf("store: questions: %w", err)
		}
		q.Data = json.RawMessage(data)
		out = append(out, q)
	}
	return out, rows.Err()
}

// ChangeSet puts questions into a set, in the place of those with the same ids, and takes others
// out, which makes a new version; all others are taken out if whole. The set is made if there is
// none. Nothing happens where nothing changes.
func (s *Store) ChangeSet(ctx context.Context, collection, name string, put []SetQuestion, remove []string, whole bool) (version int, err error) {
	err = s.inTx(ctx, func(tx *Tx) error {
		set, err := ensureSet(ctx, tx, collection, name)
		if err != nil {
			return err
		}
		next := set.Version + 1
		changed, err := setQuestions(ctx, tx, set.ID, next, put, remove, whole)
		if err != nil {
			return err
		}
		if version = set.Version; !changed && version > 0 {
			return nil
		}
		version = next
		return one(tx.ExecContext(ctx, "UPDATE question_sets SET version = ?, changed = ? WHERE id = ?", next, now(), set.ID))
	})
	if err != nil {
		return 0, fmt.Errorf("store: change question set %s: %w", name, err)
	}
	return version, nil
}

func ensureSet(ctx context.Context, tx *Tx, collection, name string) (*QuestionSet, error) {
	set, err := scanSet(tx.QueryRowContext(ctx, setColumns+"WHERE collection = ? AND name = ?", collection, name))
	if !errors.Is(err, sql.ErrNoRows) {
		return set, err
	}
	set = &QuestionSet{ID: NewID(), Name: name}
	_, err = tx.ExecContext(ctx, "INSERT INTO question_sets (id, collection, name, version, created, changed) VALUES (?, ?, ?, 0, ?, ?)", set.ID, collection, name, now(), now())
	return set, err
}

// setQuestions changes the questions from a version on and tells whether any did.
func setQuestions(ctx context.Context, tx *Tx, set string, version int, put []SetQuestion, remove []string, whole bool) (changed bool, err error) {
	type kept struct {
		data  string
		place int
	}
	have, last := map[string]kept{}, 0
	rows, err := tx.QueryContext(ctx, "SELECT id, data, place FROM set_questions WHERE of_set = ? AND until = 0", set)
	if err != nil {
		return false, err
	}
	defer rows.Close()
	for rows.Next() {
		var id string
		var k kept
		if err := rows.Scan(&id, &k.data, &k.place); err != nil {
			return false, err
		}
		have[id], last = k, max(last, k.place)
	}
	if err := rows.Err(); err != nil {
		return false, err
	}
	end := func(id string) error {
		changed = true
		_, err := tx.ExecContext(ctx, "UPDATE set_questions SET until = ? WHERE of_set = ? AND id = ? AND until = 0", version, set, id)
		return err
	}
	gone := map[string]bool{}
	for _, id := range remove {
		gone[id] = true
	}
	if whole {
		for id := range have {
			gone[id] = true
		}
	}
	for _, q := range put {
		delete(gone, q.ID)
		k, ok := have[q.ID]
		if ok && k.data == string(q.Data) {
			continue
		}
		if !ok {
			last++
			k.place = last
		} else if err := end(q.ID); err != nil {
			return false, err
		}
		changed = true
		if _, err := tx.ExecContext(ctx, "INSERT INTO set_questions (of_set, id, since, place, data) VALUES (?, ?, ?, ?, ?)", set, q.ID, version, k.place, string(q.Data)); err != nil {
			return false, err
		}
	}
	for id := range gone {
		if _, ok := have[id]; ok {
			if err := end(id); err != nil {
				return false, err
			}
		}
	}
	return changed, nil
}

// RemoveQuestionSet removes a set with all its versions.
func (s *Store) RemoveQuestionSet(ctx context.Context, collection, name string) error {
	return one(s.exec(ctx, "DELETE FROM question_sets WHERE collection = ? AND name = ?", collection, name))
}

// A BenchItem is a thing of the bench that is kept under a name: a trial, say.
type BenchItem struct {
	Name    string
	Changed time.Time
	Data    json.RawMessage
}

// SetBenchItem keeps one, in the place of one of that kind and name.
func (s *Store) SetBenchItem(ctx context.Context, collection, kind, name string, item any) error {
	data, err := json.Marshal(item)
	if err != nil {
		return fmt.Errorf("store: %s: %w", kind, err)
	}
	_, err = s.exec(ctx, "INSERT OR REPLACE INTO bench (collection, kind, name, changed, data) VALUES (?, ?, ?, ?, ?)", collection, kind, name, now(), string(data))
	return err
}

// BenchItems returns the things of a kind, the latest first.
func (s *Store) BenchItems(ctx context.Context, collection, kind string) ([]BenchItem, error) {
	rows, err := s.db.QueryContext(ctx, "SELECT name, changed, data FROM bench WHERE collection = ? AND kind = ? ORDER BY changed DESC, name", collection, kind)
	if err != nil {
		return nil, fmt.Errorf("store: %s: %w", kind, err)
	}
	defer rows.Close()
	out := []BenchItem{}
	for rows.Next() {
		var i BenchItem
		var changed, data string
		if err := rows.Scan(&i.Name, &changed, &data); err != nil {
			return nil, fmt.Errorf("store: %s: %w", kind, err)
		}
		i.Changed, _ = time.Parse(timeFormat, changed)
		i.Data = json.RawMessage(data)
		out = append(out, i)
	}
	return out, rows.Err()
}

// BenchItem puts one into a value.
func (s *Store) BenchItem(ctx context.Context, collection, kind, name string, into any) error {
	var data string
	err := s.db.QueryRowContext(ctx, "SELECT data FROM bench WHERE collection = ? AND kind = ? AND name = ?", collection, kind, name).Scan(&data)
	if errors.Is(err, sql.ErrNoRows) {
		return ErrNotFound
	}
	return errors.Join(err, json.Unmarshal([]byte(data), into))
}

// RemoveBenchItem removes one.
func (s *Store) RemoveBenchItem(ctx context.Context, collection, kind, name string) error {
	return one(s.exec(ctx, "DELETE FROM bench WHERE collection = ? AND kind = ? AND name = ?", collection, kind, name))
}

// RemoveMeasurement removes a measurement with people's verdicts on it.
func (s *Store) RemoveMeasurement(ctx context.Context, id string) error {
	return one(s.exec(ctx, "DELETE FROM measurements WHERE id = ?", id))
}

// SetVerdict keeps what a judge says of an answer, in the place of what they said before.
func (s *Store) SetVerdict(ctx context.Context, measurement, question, judge string, verdict any) error {
	data, err := json.Marshal(verdict)
	if err != nil {
		return fmt.Errorf("store: verdict: %w", err)
	}
	_, err = s.exec(ctx, "INSERT OR REPLACE INTO verdicts (measurement, question, judge, at, data) VALUES (?, ?, ?, ?, ?)", measurement, question, judge, now(), string(data))
	return err
}

// Verdicts returns the verdicts on a measurement's answers, the earliest first.
func (s *Store) Verdicts(ctx context.Context, measurement string) ([]json.RawMessage, error) {
	return s.texts(ctx, "SELECT data FROM verdicts WHERE measurement = ? ORDER BY at, question, judge", measurement)
}

// AddReport keeps what a reader says of an answer.
func (s *Store) AddReport(ctx context.Context, collection, question string, report any) error {
	data, err := json.Marshal(report)
	if err != nil {
		return fmt.Errorf("store: report: %w", err)
	}
	_, err = s.exec(ctx, "INSERT INTO reports (collection, at, question, data) VALUES (?, ?, ?, ?)", collection, now(), question, string(data))
	return err
}

// mostReports is how many reports a collection gives back.
const mostReports = 1000

// A Report is what a reader said of an answer.
type Report struct {
	ID   int64
	Done bool // an owner has seen to it
	Data json.RawMessage
}

// Reports returns what readers said, the latest first.
func (s *Store) Reports(ctx context.Context, collection string) ([]Report, error) {
	rows, err := s.db.QueryContext(ctx, "SELECT id, done, data FROM reports WHERE collection = ? ORDER BY at DESC, id DESC LIMIT ?", collection, mostReports)
	if err != nil {
		return nil, fmt.Errorf("store: reports: %w", err)
	}
	defer rows.Close()
	var out []Report
	for rows.Next() {
		var r Report
		var data string
		if err := rows.Scan(&r.ID, &r.Done, &data); err != nil {
			return nil, fmt.Errorf("store: reports: %w", err)
		}
		r.Data = json.RawMessage(data)
		out = append(out, r)
	}
	return out, rows.Err()
}

// SetReportDone records whether an owner has seen to a report.
func (s *Store) SetReportDone(ctx context.Context, collection string, id int64, done bool) error {
	return one(s.exec(ctx, "UPDATE reports SET done = ? WHERE collection = ? AND id = ?", done, collection, id))
}

// CountReports tells how many reports nobody has seen to yet.
func (s *Store) CountReports(ctx context.Context, collection string) (n int, err error) {
	err = s.db.QueryRowContext(ctx, "SELECT count(*) FROM reports WHERE collection = ? AND done = 0", collection).Scan(&n)
	return n, err
}

func (s *Store) texts(ctx context.Context, query string, args ...any) ([]json.RawMessage, error) {
	rows, err := s.db.QueryContext(ctx, query, args...)
	if err != nil {
		return nil, fmt.Errorf("store: %w", err)
	}
	defer rows.Close()
	out := []json.RawMessage{}
	for rows.Next() {
		var data string
		if err := rows.Scan(&data); err != nil {
			return nil, fmt.Errorf("store: %w", err)
		}
		out = append(out, json.RawMessage(data))
	}
	return out, rows.Err()
}
