package main

import (
	"context"
	"database/sql"
	"fmt"
	"hash/fnv"
	"math/rand/v2"
	"os/exec"
	"path/filepath"
	"strings"

	"jardinet/bench/manuals"
	"jardinet/measure"
	"jardinet/service"
	"jardinet/text"

	_ "modernc.org/sqlite" // the driver
)

// A pageStore is the pages of all manuals as pdftotext reads them.
type pageStore struct {
	pages []pageText
}

type pageText struct {
	document string
	number   int
	text     string
}

func pageTexts(ctx context.Context) (*pageStore, error) {
	out := &pageStore{}
	for _, m := range manuals.All() {
		raw, err := exec.CommandContext(ctx, "pdftotext", filepath.Join(cache, "manuals", m.Name), "-").Output()
		if err != nil {
			return nil, fmt.Errorf("pdftotext %s: %w", m.Name, err)
		}
		for i, page := range strings.Split(strings.TrimSuffix(string(raw), "\f"), "\f") {
			out.pages = append(out.pages, pageText{m.Name, i + 1, page})
		}
	}
	return out, nil
}

// A baseline finds the ten best places for a question.
type baseline struct {
	name string
	open func(ctx context.Context, s *service.Service, pages *pageStore) (find func(question string) ([]measure.Retrieved, error), err error)
}

var baselines = []baseline{
	{"FTS5 pages", openPages},
	{"FTS5 passages", openPassages},
	{"random", openRandom},
}

func (b baseline) measure(ctx context.Context, s *service.Service, set *measure.Set, pages *pageStore) (*measure.Measurement, error) {
	find, err := b.open(ctx, s, pages)
	if err != nil {
		return nil, err
	}
	return measure.Retrieval(set, find)
}

// table makes an FTS5 table and returns what searches it: OR of the words,
// Porter stems, bm25().
func table(ctx context.Context, rows func(insert func(text string, at measure.Retrieved) error) error) (func(string) ([]measure.Retrieved, error), error) {
	db, err := sql.Open("sqlite", ":memory:")
	if err != nil {
		return nil, err
	}
	db.SetMaxOpenConns(1)
	if _, err := db.ExecContext(ctx, "CREATE VIRTUAL TABLE t USING fts5(body, tokenize='porter unicode61')"); err != nil {
		return nil, err
	}
	var places []measure.Retrieved
	tx, err := db.BeginTx(ctx, nil)
	if err != nil {
		return nil, err
	}
	defer tx.Rollback()
	err = rows(func(text string, at measure.Retrieved) error {
		places = append(places, at)
		_, err := tx.ExecContext(ctx, "INSERT INTO t(rowid, body) VALUES (?, ?)", len(places), text)
		return err
	})
	if err != nil {
		return nil, err
	}
	if err := tx.Commit(); err != nil {
		return nil, err
	}
	return func(question string) ([]measure.Retrieved, error) {
		var words []string
		for _, t := range text.Tokens(question) {
			words = append(words, `"`+t.Word+`"`)
		}
		found, err := db.QueryContext(ctx, "SELECT rowid FROM t WHERE t MATCH ? ORDER BY bm25(t) LIMIT 10", strings.Join(words, " OR "))
		if err != nil {
			return nil, err
		}
		defer found.Close()
		var out []measure.Retrieved
		for found.Next() {
			var id int
			if err := found.Scan(&id); err != nil {
				return nil, err
			}
			out = append(out, places[id-1])
		}
		return out, found.Err()
	}, nil
}

func openPages(ctx context.Context, _ *service.Service, pages *pageStore) (func(string) ([]measure.Retrieved, error), error) {
	return table(ctx, func(insert func(string, measure.Retrieved) error) error {
		for _, p := range pages.pages {
			if err := insert(p.text, measure.Retrieved{Document: p.document, Pages: []int{p.number}}); err != nil {
				return err
			}
		}
		return nil
	})
}

func openPassages(ctx context.Context, s *service.Service, _ *pageStore) (func(string) ([]measure.Retrieved, error), error) {
	return table(ctx, func(insert func(string, measure.Retrieved) error) error {
		return s.Passages(ctx, collection, func(document string, p service.Found) error {
			return insert(strings.Join(p.Section, " ")+" "+p.Text, measure.Retrieved{Document: document, Pages: p.Pages})
		})
	})
}

func openRandom(_ context.Context, _ *service.Service, pages *pageStore) (func(string) ([]measure.Retrieved, error), error) {
	return func(question string) ([]measure.Retrieved, error) {
		hash := fnv.New64()
		hash.Write([]byte(question))
		random := rand.New(rand.NewPCG(hash.Sum64(), 1))
		var out []measure.Retrieved
		for range 10 {
			p := pages.pages[random.IntN(len(pages.pages))]
			out = append(out, measure.Retrieved{Document: p.document, Pages: []int{p.number}})
		}
		return out, nil
	}, nil
}
