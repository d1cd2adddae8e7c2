// Package trec reads and writes the files in which retrieval experiments are exchanged: topics
// (the questions), qrels (which pages prove an answer) and runs (which pages were found, the best
// first).
//
// What is retrieved is a page, so a document's name in these files is that of the file and the
// number of the page, as in seed-vault-manual.pdf:12; white space and percent signs are escaped
// as in an address. A passage over several pages stands in a run once for each of them.
package trec

import (
	"bufio"
	"cmp"
	"fmt"
	"io"
	"net/url"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"jardinet/measure"
)

// Page returns the name of a page in these files.
func Page(document string, page int) string {
	return url.PathEscape(document) + ":" + strconv.Itoa(page)
}

// parsePage reads such a name.
func parsePage(s string) (document string, page int, err error) {
	at := strings.LastIndexByte(s, ':')
	if at > 0 {
		document, err = url.PathUnescape(s[:at])
		if err == nil {
			page, err = strconv.Atoi(s[at+1:])
		}
	}
	if at <= 0 || err != nil || page < 1 {
		return "", 0, fmt.Errorf("page %q: write it as file.pdf:12", s)
	}
	return document, page, nil
}

// WriteTopics writes the questions of a set.
func WriteTopics(w io.Writer, set *measure.Set) error {
	b := bufio.NewWriter(w)
	for _, q := range set.Questions {
		fmt.Fprintf(b, "<top>\n<num> Number: %s\n<title> %s\n</top>\n\n", q.ID, strings.Join(strings.Fields(q.Question), " "))
	}
	return b.Flush()
}

// WriteQrels writes which pages prove the answers.
func WriteQrels(w io.Writer, set *measure.Set) error {
	b := bufio.NewWriter(w)
	for _, q := range set.Questions {
		seen := map[string]bool{}
		for _, p := range q.Places() {
			if name := Page(p.Document, p.Page); !seen[name] {
				seen[name] = true
				fmt.Fprintf(b, "%s 0 %s 1\n", q.ID, name)
			}
		}
	}
	return b.Flush()
}

// WriteRun writes what was found for each question of a measurement.
func WriteRun(w io.Writer, m *measure.Measurement) error {
	b := bufio.NewWriter(w)
	for _, r := range m.Records {
		rank, seen := 0, map[string]bool{}
		for i, found := range r.Retrieved {
			for _, page := range found.Pages {
				name := Page(found.Document, page)
				if seen[name] {
					continue
				}
				seen[name] = true
				rank++
				// The order is by score alone for whoever reads it, so ties get one.
				fmt.Fprintf(b, "%s Q0 %s %d %.6f %s\n", r.ID, name, rank, found.Score-1e-6*float64(i+rank), cmp.Or(m.ID, "jardinet"))
			}
		}
	}
	return b.Flush()
}

var (
	topic = regexp.MustCompile(`(?s)<top>(.*?)</top>`)
	num   = regexp.MustCompile(`<num>\s*(?:Number:)?\s*(\S+)`)
	title = regexp.MustCompile(`(?s)<title>\s*(.*?)\s*(?:<|$)`)
)

// ReadSet makes a question set of topics and qrels. Topics may also be lines of an id, a tab and
// the question. A question without a page in the qrels is kept without evidence.
func ReadSet(name string, topics, qrels io.Reader) (*measure.Set, error) {
	questions, err := readTopics(topics)
	if err != nil {
		return nil, fmt.Errorf("topics: %w", err)
	}
	place := map[string]int{}
	for i, q := range questions {
		place[q.ID] = i
	}
	err = lines(qrels, 4, func(f []string) error {
		document, page, err := parsePage(f[2])
		if err != nil {
			return err
		}
		relevant, err := strconv.Atoi(f[3])
		if err != nil {
			return fmt.Errorf("relevance %q is no number", f[3])
		}
		if i, ok := place[f[0]]; ok && relevant > 0 {
			questions[i].Evidence = append(questions[i].Evidence, measure.Evidence{Document: document, Page: page})
		}
		return nil
	})
	if err != nil {
		return nil, fmt.Errorf("qrels: %w", err)
	}
	return measure.NewSet(name, questions)
}

func readTopics(r io.Reader) ([]measure.Question, error) {
	data, err := io.ReadAll(r)
	if err != nil {
		return nil, err
	}
	var out []measure.Question
	if !strings.Contains(string(data), "<top>") {
		for i, line := range strings.Split(string(data), "\n") {
			if strings.TrimSpace(line) == "" {
				continue
			}
			id, words, ok := strings.Cut(strings.TrimRight(line, "\r"), "\t")
			if !ok {
				return nil, fmt.Errorf("line %d: write an id, a tab and the question", i+1)
			}
			out = append(out, measure.Question{ID: strings.TrimSpace(id), Question: strings.TrimSpace(words)})
		}
		return out, nil
	}
	for _, m := range topic.FindAllStringSubmatch(string(data), -1) {
		id, words := num.FindStringSubmatch(m[1]), title.FindStringSubmatch(m[1])
		if id == nil || words == nil {
			return nil, fmt.Errorf("a topic lacks its <num> or its <title>: %.60q", m[1])
		}
		out = append(out, measure.Question{ID: id[1], Question: strings.Join(strings.Fields(words[1]), " ")})
	}
	return out, nil
}

// ReadRun reads a run: for each question the pages found, the best first. As is the custom,
// their order comes from the scores, equal ones from the names backwards, and the ranks in the
// file are not looked at.
func ReadRun(r io.Reader) (map[string][]measure.Retrieved, error) {
	type line struct {
		name  string
		score float64
		found measure.Retrieved
	}
	all := map[string][]line{}
	err := lines(r, 6, func(f []string) error {
		document, page, err := parsePage(f[2])
		if err != nil {
			return err
		}
		score, err := strconv.ParseFloat(f[4], 64)
		if err != nil {
			return fmt.Errorf("score %q is no number", f[4])
		}
		all[f[0]] = append(all[f[0]], line{f[2], score, measure.Retrieved{Document: document, Pages: []int{page}, Score: score}})
		return nil
	})
	if err != nil {
		return nil, fmt.Errorf("run: %w", err)
	}
	out := map[string][]measure.Retrieved{}
	for id, found := range all {
		slices.SortFunc(found, func(a, b line) int { return cmp.Or(cmp.Compare(b.score, a.score), cmp.Compare(b.name, a.name)) })
		for _, l := range found {
			out[id] = append(out[id], l.found)
		}
	}
	return out, nil
}

// lines calls visit with the fields of each line that is not empty.
func lines(r io.Reader, fields int, visit func(fields []string) error) error {
	s := bufio.NewScanner(r)
	s.Buffer(nil, 1<<20)
	for n := 1; s.Scan(); n++ {
		f := strings.Fields(s.Text())
		if len(f) == 0 {
			continue
		}
		if len(f) != fields {
			return fmt.Errorf("line %d has %d fields, not %d", n, len(f), fields)
		}
		if err := visit(f); err != nil {
			return fmt.Errorf("line %d: %w", n, err)
		}
	}
	return s.Err()
}
