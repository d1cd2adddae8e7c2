package main

import (
	"bufio"
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"

	"golang.org/x/net/html"
)

// A source is a Debian package whose text may be used and passed on.
type source struct {
	Package string `json:"package"`
	Licence string `json:"licence"`
	times   int
	read    func(dir string, line func(string)) error
}

// sources are openly licensed, and none is copyleft in a way that would reach
// the vectors.
var sources = []source{
	{"wordnet-base", "WordNet licence (permissive)", 2, readWordNet},
	{"libreoffice-help-en-us", "MPL-2.0", 1, readHTML},
	{"python3.11-doc", "PSF-2.0", 1, readHTML},
	{"postgresql-doc-15", "PostgreSQL licence (permissive)", 1, readHTML},
	{"sqlite3-doc", "public domain", 1, readHTML},
	{"nova-doc", "Apache-2.0", 1, readHTML},
	{"cinder-doc", "Apache-2.0", 1, readHTML},
	{"keystone-doc", "Apache-2.0", 1, readHTML},
	{"neutron-doc", "Apache-2.0", 1, readHTML},
}

// fetch unpacks a package into the cache, once.
func (s *source) fetch(ctx context.Context, cache string) (string, error) {
	dir := filepath.Join(cache, s.Package)
	if _, err := os.Stat(dir); err == nil {
		return dir, nil
	}
	get := exec.CommandContext(ctx, "apt-get", "download", "-q", s.Package)
	get.Dir = cache
	if out, err := get.CombinedOutput(); err != nil {
		return "", fmt.Errorf("apt-get download %s: %w: %s; run apt-get update once, then again", s.Package, err, bytes.TrimSpace(out))
	}
	debs, err := filepath.Glob(filepath.Join(cache, s.Package+"_*.deb"))
	if err != nil || len(debs) == 0 {
		return "", errors.Join(err, fmt.Errorf("apt-get download %s left no package", s.Package))
	}
	if out, err := exec.CommandContext(ctx, "dpkg-deb", "-x", debs[0], dir).CombinedOutput(); err != nil {
		return "", fmt.Errorf("dpkg-deb %s: %w: %s", debs[0], err, out)
	}
	return dir, nil
}

// readHTML hands over the paragraphs of all HTML pages below a directory, in
// the order of their paths.
func readHTML(dir string, line func(string)) error {
	var paths []string
	err := filepath.WalkDir(dir, func(path string, d fs.DirEntry, err error) error {
		if err == nil && !d.IsDir() && strings.HasSuffix(path, ".html") {
			paths = append(paths, path)
		}
		return err
	})
	if err != nil {
		return err
	}
	slices.Sort(paths)
	for _, path := range paths {
		data, err := os.ReadFile(path)
		if err != nil {
			return err
		}
		paragraphs(data, line)
	}
	return nil
}

// breaks are the elements that end a paragraph; what stands in silent ones is no
// prose.
var (
	breaks = map[string]bool{"p": true, "li": true, "dd": true, "dt": true, "td": true, "th": true, "h1": true, "h2": true, "h3": true, "h4": true, "div": true, "tr": true, "br": true}
	silent = map[string]bool{"script": true, "style": true, "pre": true, "nav": true, "head": true}
)

func paragraphs(data []byte, line func(string)) {
	z := html.NewTokenizer(bytes.NewReader(data))
	var out strings.Builder
	quiet := 0
	flush := func() {
		if s := strings.Join(strings.Fields(out.String()), " "); s != "" {
			line(s)
		}
		out.Reset()
	}
	for {
		switch z.Next() {
		case html.ErrorToken:
			flush()
			return
		case html.TextToken:
			if quiet == 0 {
				out.Write(z.Text())
			}
		case html.StartTagToken:
			name, _ := z.TagName()
			if silent[string(name)] {
				quiet++
			}
			if breaks[string(name)] {
				flush()
			}
		case html.EndTagToken:
			name, _ := z.TagName()
			if silent[string(name)] && quiet > 0 {
				quiet--
			}
			if breaks[string(name)] {
				flush()
			}
		}
	}
}

// readWordNet hands over each synset as a line of its words and its gloss.
func readWordNet(dir string, line func(string)) error {
	for _, part := range []string{"noun", "verb", "adj", "adv"} {
		err := eachSynset(dir, part, func(s *synset) {
			line(strings.Join(s.words, " ") + " " + s.gloss)
		})
		if err != nil {
			return err
		}
	}
	return nil
}

// A synset is one sense with its words.
type synset struct {
	id      string
	words   []string
	gloss   string
	related []relation
}

// A relation leads to another synset, or to one word of it.
type relation struct {
	kind, to string
}

func eachSynset(dir, part string, visit func(*synset)) error {
	f, err := os.Open(filepath.Join(dir, "usr/share/wordnet/data."+part))
	if err != nil {
		return err
	}
	defer f.Close()
	in := bufio.NewReader(f)
	for {
		raw, err := in.ReadString('\n')
		if errors.Is(err, io.EOF) {
			return nil
		}
		if err != nil {
			return err
		}
		if s := parseSynset(part, raw); s != nil {
			visit(s)
		}
	}
}

// letters name the parts of speech in WordNet's pointers.
var letters = map[string]string{"n": "noun", "v": "verb", "a": "adj", "s": "adj", "r": "adv"}

// parseSynset reads a line of a data file (wndb(5)); nil for the licence's.
func parseSynset(part, raw string) *synset {
	if strings.HasPrefix(raw, " ") {
		return nil
	}
	data, gloss, _ := strings.Cut(raw, " | ")
	fields := strings.Fields(data)
	if len(fields) < 6 {
		return nil
	}
	s := &synset{id: part + fields[0], gloss: strings.TrimSpace(gloss)}
	var n int
	fmt.Sscanf(fields[3], "%x", &n)
	at := 4
	for range n {
		word, _, _ := strings.Cut(fields[at], "(")
		s.words = append(s.words, strings.ToLower(strings.ReplaceAll(word, "_", " ")))
		at += 2
	}
	var pointers int
	fmt.Sscanf(fields[at], "%d", &pointers)
	at++
	for range pointers {
		if at+2 < len(fields) {
			s.related = append(s.related, relation{fields[at], letters[fields[at+2]] + fields[at+1]})
		}
		at += 4
	}
	return s
}
