package main

import (
	"bufio"
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"
)

var partsOfSpeech = []string{"noun", "verb", "adj", "adv"}

// readWordNet hands over each synset as a document: its words are the heading
// of its gloss.
func readWordNet(dir string, visit func(block)) error {
	return eachSynset(dir, func(s *synset) {
		words := strings.Join(s.words, " ")
		visit(block{heading: true, text: words})
		visit(block{text: words + " " + s.gloss})
		visit(block{})
	})
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

func eachSynset(dir string, visit func(*synset)) error {
	for _, part := range partsOfSpeech {
		f, err := os.Open(filepath.Join(dir, "usr/share/wordnet/data."+part))
		if err != nil {
			return err
		}
		defer f.Close()
		in := bufio.NewReader(f)
		for {
			raw, err := in.ReadString('\n')
			if errors.Is(err, io.EOF) {
				break
			}
			if err != nil {
				return err
			}
			if s := parseSynset(part, raw); s != nil {
				visit(s)
			}
		}
	}
	return nil
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
