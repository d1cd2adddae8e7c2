package main

import (
	"bufio"
	"context"
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"strings"

	"jardinet/bench/manuals"
	"jardinet/text"
)

// passageWords is the length of a made passage.
const passageWords = 120

// A made passage is realistic: runs of sentences as they follow each other in
// the manuals, so that word frequencies keep Zipf's law, with one word in forty
// made rare, so that the vocabulary grows with the collection as real ones do.
type made struct {
	Heading string `json:"h"`
	Body    string `json:"b"`
}

// corpus makes n passages, the same ones every time, and hands each to visit.
func corpus(n int, visit func(i int, p made) error) error {
	books, err := sentences()
	if err != nil {
		return err
	}
	random := rand.New(rand.NewPCG(uint64(n), 1949))
	for i := range n {
		book := books[random.IntN(len(books))]
		at := random.IntN(len(book))
		heading := strings.Fields(book[at])
		var body []string
		for words := 0; words < passageWords; at = (at + 1) % len(book) {
			fields := strings.Fields(book[at])
			for j := range fields {
				if random.IntN(40) == 0 {
					fields[j] += fmt.Sprint(int(float64(n) * random.Float64() * random.Float64()))
				}
			}
			body = append(body, strings.Join(fields, " "))
			words += len(fields)
		}
		p := made{strings.Join(heading[:min(4, len(heading))], " "), strings.Join(body, " ")}
		if err := visit(i, p); err != nil {
			return err
		}
	}
	return nil
}

// sentences reads the English manuals' sentences, by document, through
// pdftotext, kept in the cache.
func sentences() ([][]string, error) {
	path := filepath.Join(cache, "sentences.json")
	var books [][]string
	if data, err := os.ReadFile(path); err == nil && json.Unmarshal(data, &books) == nil {
		return books, nil
	}
	for _, m := range manuals.Known() {
		raw, err := exec.Command("pdftotext", filepath.Join(cache, "manuals", m.Name), "-").Output()
		if err != nil {
			return nil, fmt.Errorf("pdftotext %s: %w", m.Name, err)
		}
		whole := strings.Join(strings.Fields(string(raw)), " ")
		if text.Detect(whole[:min(len(whole), 20_000)], "") != text.English {
			continue
		}
		var book []string
		for _, span := range text.Sentences(whole) {
			if s := whole[span.Start:span.End]; len(s) > 20 && len(s) < 600 {
				book = append(book, s)
			}
		}
		if len(book) > 100 {
			books = append(books, book)
		}
	}
	data, err := json.Marshal(books)
	if err != nil {
		return nil, err
	}
	return books, os.WriteFile(path, data, 0o644)
}

// A query is words sampled from one passage, which should be found.
type query struct {
	Words  string `json:"words"`
	Target int    `json:"target"`
}

// queries samples content words from passages spread over the corpus.
func queries(n, count int) ([]query, error) {
	random := rand.New(rand.NewPCG(uint64(n), 7))
	every := max(1, n/count)
	var out []query
	err := corpus(n, func(i int, p made) error {
		if i%every != every/2 || len(out) == count {
			return nil
		}
		var words []string
		for _, t := range text.Tokens(p.Body) {
			if len(t.Word) > 3 && !t.Number && !text.IsFunctionWord(t.Word, "en") && strings.Trim(t.Word, "abcdefghijklmnopqrstuvwxyz") == "" {
				words = append(words, t.Word)
			}
		}
		random.Shuffle(len(words), func(a, b int) { words[a], words[b] = words[b], words[a] })
		if len(words) >= 5 {
			out = append(out, query{strings.Join(words[:3+random.IntN(3)], " "), i})
		}
		return nil
	})
	return out, err
}

// questions returns the words of the questions on the manuals; the made corpus
// has no passage that answers them, so that they only measure time.
func questions() ([]query, error) {
	var out []query
	for _, half := range []string{"train", "test"} {
		set, err := manuals.Questions("bench/questions", half)
		if err != nil {
			return nil, err
		}
		for _, q := range set.Questions {
			var words []string
			for _, t := range text.Tokens(q.Question) {
				words = append(words, t.Word)
			}
			out = append(out, query{strings.Join(words, " "), -1})
		}
	}
	return out, nil
}

// corpusFile writes the corpus as JSON Lines, for sqlite3, and returns its size.
func corpusFile(ctx context.Context, n int, path string) (bytes int64, err error) {
	f, err := os.Create(path)
	if err != nil {
		return 0, err
	}
	defer f.Close()
	w := bufio.NewWriterSize(f, 1<<20)
	clean := strings.NewReplacer("\x1f", " ", "\x1e", " ", "\n", " ")
	err = corpus(n, func(i int, p made) error {
		bytes += int64(len(p.Heading) + len(p.Body))
		// Separators of sqlite3's .mode ascii.
		_, err := fmt.Fprintf(w, "%d\x1f%s\x1f%s\x1e", i+1, clean.Replace(p.Heading), clean.Replace(p.Body))
		if err != nil {
			return err
		}
		return ctx.Err()
	})
	if err != nil {
		return 0, err
	}
	return bytes, w.Flush()
}
