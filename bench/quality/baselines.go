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

	"jardinet/api"
	"jardinet/measure"
	"jardinet/rank"
	"jardinet/service"
	"jardinet/text"

	_ "modernc.org/sqlite" // the driver
)

// A pageStore is the pages of documents as pdftotext reads them.
type pageStore struct {
	pages []pageText
}

type pageText struct {
	document string
	number   int
	text     string
}

func pageTexts(ctx context.Context, files []string) (*pageStore, error) {
	out := &pageStore{}
	for _, path := range files {
		raw, err := exec.CommandContext(ctx, "pdftotext", path, "-").Output()
		if err != nil {
			return nil, fmt.Errorf("pdftotext %s: %w", path, err)
		}
		for i, page := range strings.Split(strings.TrimSuffix(string(raw), "\f"), "\f") {
			out.pages = append(out.pages, pageText{filepath.Base(path), i + 1, page})
		}
	}
	return out, nil
}

// A finder returns the ten best places for a question.
type finder = func(question string) ([]measure.Retrieved, error)

// A way is one of finding pages.
type way struct {
	name string
	open func(ctx context.Context, s *service.Service, collection string, pages *pageStore) (finder, error)
}

var ways = []way{
	{"words", ours(rank.Words)},
	{"meaning", ours(rank.Meaning)},
	{"both", ours(rank.Both)},
	{"FTS5 pages", openPages},
	{"FTS5 passages", openPassages},
	{"random", openRandom},
}

// ours finds pages as the service does, by words, meaning or both.
func ours(by rank.By) func(context.Context, *service.Service, string, *pageStore) (finder, error) {
	return func(ctx context.Context, s *service.Service, collection string, _ *pageStore) (finder, error) {
		answerer, err := s.Answerer(collection)
		if err != nil {
			return nil, err
		}
		ranker := *answerer.Rank
		ranker.By = by
		answerer.Rank = &ranker
		return func(question string) ([]measure.Retrieved, error) {
			found, err := answerer.Find(ctx, question, 10)
			if err != nil {
				return nil, err
			}
			var out []measure.Retrieved
			for _, c := range found.Candidates {
				out = append(out, measure.Retrieved{Document: c.Document.Name, Pages: c.Passage.Pages()})
			}
			return out, nil
		}, nil
	}
}

// table makes an FTS5 table and returns what searches it: OR of the words,
// Porter stems, bm25().
func table(ctx context.Context, rows func(insert func(text string, at measure.Retrieved) error) error) (finder, error) {
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

func openPages(ctx context.Context, _ *service.Service, _ string, pages *pageStore) (finder, error) {
	return table(ctx, func(insert func(string, measure.Retrieved) error) error {
		for _, p := range pages.pages {
			if err := insert(p.text, measure.Retrieved{Document: p.document, Pages: []int{p.number}}); err != nil {
				return err
			}
		}
		return nil
	})
}

func openPassages(ctx context.Context, s *service.Service, collection string, _ *pageStore) (finder, error) {
	return table(ctx, func(insert func(string, measure.Retrieved) error) error {
		return s.Passages(ctx, collection, func(document string, p api.Found) error {
			return insert(strings.Join(p.Section, " ")+" "+p.Text, measure.Retrieved{Document: document, Pages: p.Pages})
		})
	})
}

func openRandom(_ context.Context, _ *service.Service, _ string, pages *pageStore) (finder, error) {
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
