// Command generate makes the labelled layout set in bench/layout/set: pages of
// a made-up organisation, set by producers that write PDF in quite different
// ways, and truth.json, which says what stands on them.
//
//	go run ./bench/layout/generate [-set DIR] [-seed N]
//
// It needs chromium, groff, fonts-liberation and fonts-dejavu-core.
package main

import (
	"encoding/json"
	"flag"
	"fmt"
	"log"
	"math/rand/v2"
	"os"
	"path/filepath"
	"strings"

	"jardinet/bench/layout/truth"
	"jardinet/tools/chromium"
)

// types says which types of page each producer sets; groff's macros have no
// side notes, line numbers or watermarks.
var types = map[string][]string{
	"chromium": {"plain", "two columns", "flowing columns", "three columns", "mixed", "figure", "ruled table", "unruled table", "spanning cells", "table in column", "formulas", "side notes", "box", "landscape", "watermark", "line numbers", "spaced heading"},
	"fpdf":     {"plain", "two columns", "three columns", "mixed", "figure", "ruled table", "unruled table", "spanning cells", "table in column", "formulas", "side notes", "box", "landscape", "watermark", "line numbers", "spaced heading"},
	"groff":    {"plain", "two columns", "three columns", "figure", "ruled table", "unruled table", "spanning cells", "table in column", "formulas", "box"},
}

// perProducer is how often each type is set.
const perProducer = 3

func main() {
	log.SetFlags(0)
	set := flag.String("set", "bench/layout/set", "where to write")
	seed := flag.Int("seed", 0, "another number makes other pages")
	flag.Parse()
	if err := run(*set, *seed); err != nil {
		log.Fatal("generate: ", err)
	}
}

func run(set string, seed int) error {
	browser, stop := chromium.Start()
	defer stop()
	var all []truth.Page
	for _, producer := range []string{"chromium", "fpdf", "groff"} {
		for round := range perProducer {
			p := write(producer, seed+round)
			var data []byte
			var err error
			switch producer {
			case "chromium":
				data, err = p.print(browser)
			case "fpdf":
				data, err = p.place()
			case "groff":
				data, err = p.typeset()
			}
			if err != nil {
				return fmt.Errorf("%s: %w", p.file, err)
			}
			if err := os.WriteFile(filepath.Join(set, p.file), data, 0o644); err != nil {
				return err
			}
			all = append(all, p.truth()...)
			log.Printf("%-16s %2d pages, %d bytes", p.file, len(p.sheets), len(data))
		}
	}
	data, err := json.MarshalIndent(all, "", " ")
	if err != nil {
		return err
	}
	return os.WriteFile(filepath.Join(set, "truth.json"), append(data, '\n'), 0o644)
}

// write makes up one paper of all the types that its producer can set.
func write(producer string, round int) *paper {
	w := writer{rand.New(rand.NewPCG(uint64(round), uint64(len(producer))))}
	p := &paper{file: fmt.Sprintf("%s-%d.pdf", producer, round+1), producer: producer, title: w.pick("Handbook of the Glasshouses", "Rules of the Railway", "Manual of the Seed Bank"), header: "Halvern Botanic Trust", alternate: round%2 == 1}
	kinds := types[producer]
	for i, at := range w.Perm(len(kinds)) {
		s := w.sheetOf(kinds[at], i+1)
		p.sheets = append(p.sheets, s)
		p.sections = append(p.sections, s.bands[0].columns[0][0].Text)
	}
	return p
}

// running returns the header and the footer of a page, from 0.
func (p *paper) running(i int) (left, right, foot string) {
	foot = fmt.Sprint(i + 1)
	switch {
	case !p.alternate:
		return p.header, p.title, foot
	case i%2 == 0:
		return p.title, "", foot
	}
	return "", p.sections[i], foot
}

func (p *paper) truth() (out []truth.Page) {
	for i, s := range p.sheets {
		page := truth.Page{File: p.file, Number: i + 1, Producer: p.producer, Type: s.kind, Numbered: s.numbered}
		left, right, foot := p.running(i)
		for _, f := range []string{left, right, foot, s.watermark} {
			if f != "" {
				page.Furniture = append(page.Furniture, f)
			}
		}
		for _, b := range s.bands {
			for _, column := range b.columns {
				for _, piece := range column {
					piece.Block.Text = strings.Join(strings.Fields(piece.Text), " ")
					page.Blocks = append(page.Blocks, piece.Block)
				}
			}
		}
		out = append(out, page)
	}
	return out
}

var raisedRunes = map[rune]rune{'⁰': '0', '¹': '1', '²': '2', '³': '3', '⁴': '4', '⁵': '5', '⁶': '6', '⁷': '7', '⁸': '8', '⁹': '9', '⁻': '−', '⁺': '+'}
var loweredRunes = map[rune]rune{'₀': '0', '₁': '1', '₂': '2', '₃': '3', '₄': '4', '₅': '5', '₆': '6', '₇': '7', '₈': '8', '₉': '9'}

// A shift is a run of characters that are raised, lowered or neither.
type shift struct {
	text string
	by   int // 1 raised, -1 lowered
}

// shifts splits a text at its raised and lowered characters, which become plain
// ones.
func shifts(s string) (out []shift) {
	for _, r := range s {
		by := 0
		if plain, ok := raisedRunes[r]; ok {
			r, by = plain, 1
		} else if plain, ok := loweredRunes[r]; ok {
			r, by = plain, -1
		}
		if n := len(out) - 1; n >= 0 && out[n].by == by {
			out[n].text += string(r)
		} else {
			out = append(out, shift{string(r), by})
		}
	}
	return out
}
