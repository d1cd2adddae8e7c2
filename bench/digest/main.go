// Command digest measures digests against lists that were made by hand, and outlines against the
// bookmarks of real manuals that they were made without.
//
//	go run ./bench/digest            # the demo, whose lists stand in bench/digest/lists
//	go run ./bench/digest -missed    # with what was missed and what was too much
//	go run ./bench/digest -real      # pages of real manuals, from the cache of bench/fetch
//	go run ./bench/digest -tables    # questions over the demo's tables
//	go run ./bench/digest -kinds     # lists of ten kinds over the demo
//	go run ./bench/digest -cost      # how long digests of real manuals take, beside reading and encoding
//	go run ./bench/digest -outlines  # real manuals, from the cache of bench/fetch
package main

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"log"
	"os"
	"path/filepath"
	"regexp"
	"runtime"
	"slices"
	"strings"

	"jardinet/digest"
	"jardinet/embed"
	"jardinet/encoder"
	"jardinet/layout"
	"jardinet/pdf"
	"jardinet/pdfium"
	"jardinet/text"
)

// An item is one line of a list: what it is, and on which page it stands.
type item struct {
	Page int    `json:"page"`
	Is   string `json:"is"`
}

// A list is what a person found in a document.
type list struct {
	Document string
	Pages    []int // that it is of; all if empty
	Dates    []item
	Figures  []item
	Duties   []item
	Points   []item // key points, by words that tell them
}

// on leaves out what was found on pages that the list is not of.
func (l *list) on(found []item) []item {
	return slices.DeleteFunc(found, func(i item) bool { return len(l.Pages) > 0 && !slices.Contains(l.Pages, i.Page) })
}

var (
	missed   = flag.Bool("missed", false, "print what was missed and what was too much")
	real     = flag.Bool("real", false, "measure on pages of real manuals")
	tables   = flag.Bool("tables", false, "ask questions over the demo's tables")
	kinds    = flag.Bool("kinds", false, "list things of ten kinds over the demo")
	cost     = flag.Bool("cost", false, "say how long digests take")
	outlines = flag.Bool("outlines", false, "measure outlines on real manuals")
)

func main() {
	pdfium.ServeReader()
	log.SetFlags(0)
	flag.Parse()
	cache, err := os.UserCacheDir()
	if err == nil {
		e := pdfium.NewEngine(pdfium.Options{Cache: filepath.Join(cache, "jardinet", "code")})
		switch {
		case *outlines:
			err = onManuals(context.Background(), e)
		case *tables:
			err = onTables(context.Background())
		case *cost:
			err = onCost(context.Background(), e)
		case *kinds:
			err = onKinds(context.Background(), e)
		default:
			err = onLists(context.Background(), e)
		}
		e.Close()
	}
	if err != nil {
		log.Fatal("digest: ", err)
	}
}

// open reads a document.
func open(ctx context.Context, e *pdfium.Engine, path string) (*layout.Document, []pdf.Bookmark, error) {
	f, err := e.Open(ctx, path, "")
	if err != nil {
		return nil, nil, err
	}
	sheets := make([]*layout.Sheet, f.Info.Pages)
	err = f.ReadPages(ctx, 1, f.Info.Pages, func(p *pdf.Page, err error) error {
		sheets[p.Number-1] = layout.Read(p, err)
		return nil
	})
	return layout.Assemble(&f.Info, sheets), f.Outline, err
}

func encode(ctx context.Context, texts []string, language text.Language) ([][]float32, error) {
	all := make([]embed.Text, len(texts))
	for i, t := range texts {
		all[i] = embed.Text{Body: t, Language: language}
	}
	return embed.Texts(ctx, encoder.Passage, all...)
}

// A count compares a list with what was found.
type count struct{ right, found, listed int }

func (c *count) add(o count) {
	c.right, c.found, c.listed = c.right+o.right, c.found+o.found, c.listed+o.listed
}

func (c count) String() string {
	return fmt.Sprintf("%.3f of %d · %.3f of %d", float64(c.right)/float64(max(c.listed, 1)), c.listed, float64(c.right)/float64(max(c.found, 1)), c.found)
}

// compared counts what was found, if there is a list of it.
func compared(what string, l *list, listed, found []item, same func(listed, found item) bool) count {
	if listed == nil {
		return count{}
	}
	return compare(what, listed, l.on(found), same)
}

// compare matches what was found with a list, each entry once.
func compare(what string, listed, found []item, same func(listed, found item) bool) count {
	c := count{found: len(found), listed: len(listed)}
	left := slices.Clone(found)
	for _, l := range listed {
		if i := slices.IndexFunc(left, func(f item) bool { return same(l, f) }); i >= 0 {
			left = slices.Delete(left, i, i+1)
			c.right++
		} else if *missed {
			fmt.Printf("    missed %s: %s (p. %d)\n", what, l.Is, l.Page)
		}
	}
	if *missed {
		for _, f := range left {
			fmt.Printf("    too much %s: %.150s (p. %d)\n", what, f.Is, f.Page)
		}
	}
	return c
}

func equal(l, f item) bool { return l == f }

// begins tells whether a listed figure or duty is the one that was found.
func begins(l, f item) bool {
	return l.Page == f.Page && strings.Contains(text.Normal(f.Is), text.Normal(l.Is))
}

func onLists(ctx context.Context, e *pdfium.Engine) error {
	lists, documents := "bench/digest/lists/*.json", "demo/documents/"
	if *real {
		lists, documents = "bench/digest/lists/real/*.json", "bench/cache/manuals/"
	}
	paths, err := filepath.Glob(lists)
	if err != nil {
		return err
	}
	fmt.Println("recall · precision")
	var dates, figures, duties count
	var points [][4]float64
	for _, path := range paths {
		data, err := os.ReadFile(path)
		if err != nil {
			return err
		}
		var l list
		if err := json.Unmarshal(data, &l); err != nil {
			return fmt.Errorf("%s: %w", path, err)
		}
		doc, marks, err := open(ctx, e, documents+l.Document)
		if err != nil {
			return err
		}
		d, err := digest.Of(ctx, doc, marks, encode)
		if err != nil {
			return err
		}
		fmt.Println(l.Document)
		if len(l.Points) > 0 {
			of, first, random := covered(l.Points, d.Page), covered(l.Points, digest.FirstSentences(doc, len(d.Page))), 0.0
			for seed := range uint64(draws) {
				random += covered(l.Points, digest.RandomSentences(doc, len(d.Page), seed)) / draws
			}
			fmt.Printf("  key points told by %d sentences %.2f, by the first of sections %.2f, by random ones %.2f; by %d sentences %.2f\n", len(d.Page), of, first, random, len(d.Summary), covered(l.Points, d.Summary))
			points = append(points, [4]float64{of, first, random, covered(l.Points, d.Summary)})
		}
		if l.Dates == nil && l.Figures == nil {
			continue
		}
		a, b, c := compared("date", &l, l.Dates, datesOf(d), equal), compared("figure", &l, l.Figures, figuresOf(d), equal), compared("duty", &l, l.Duties, dutiesOf(d), begins)
		fmt.Printf("  dates %s\n  figures %s\n  duties %s\n", a, b, c)
		dates.add(a)
		figures.add(b)
		duties.add(c)
		runtime.GC()
	}
	for i, name := range []string{"page", "first sentences", "random sentences", "five sentences"} {
		sum := 0.0
		for _, p := range points {
			sum += p[i] / float64(len(points))
		}
		fmt.Printf("key points, %s: %.3f\n", name, sum)
	}
	fmt.Printf("all\n  dates %s\n  figures %s\n  duties %s\n", dates, figures, duties)
	return nil
}

// draws is how many random choices the mean is of.
const draws = 50

// covered is the share of key points that sentences tell.
func covered(points []item, sentences []digest.Quote) float64 {
	n := 0
	for _, p := range points {
		if slices.ContainsFunc(sentences, func(q digest.Quote) bool { return strings.Contains(text.Normal(q.Text), text.Normal(p.Is)) }) {
			n++
		}
	}
	return float64(n) / float64(len(points))
}

func datesOf(d *digest.Digest) (out []item) {
	for _, t := range d.Dates {
		out = append(out, item{t.Quote.Page, t.When})
	}
	return out
}

func figuresOf(d *digest.Digest) (out []item) {
	for _, f := range d.Figures {
		out = append(out, item{f.Quote.Page, fmt.Sprintf("%g %s", f.Value, strings.ToLower(f.Unit))})
	}
	for i := range out { // units as they are written otherwise
		out[i].Is = strings.NewReplacer("°c", "°C").Replace(out[i].Is)
	}
	return out
}

func dutiesOf(d *digest.Digest) (out []item) {
	for _, t := range d.Duties {
		out = append(out, item{t.Quote.Page, t.Quote.Text})
	}
	return out
}

// onManuals makes the outlines of real manuals without their bookmarks, and compares them with these.
func onManuals(ctx context.Context, e *pdfium.Engine) error {
	paths, err := filepath.Glob("bench/cache/manuals/*.pdf")
	if err != nil {
		return err
	}
	fmt.Println("recall · precision, without the bookmarks")
	var all count
	for _, path := range paths {
		doc, marks, err := open(ctx, e, path)
		if err != nil {
			return err
		}
		if len(marks) < 10 {
			continue
		}
		c := compare("entry", entries(digest.Outline(doc, marks)), entries(digest.Outline(doc, nil)), equal)
		fmt.Printf("  %-32s %s\n", filepath.Base(path), c)
		all.add(c)
	}
	fmt.Println("all", all)
	return nil
}

// counted is the number of a chapter, which bookmarks often lack.
var counted = regexp.MustCompile(`(?i)^(?:(?:appendix|chapter|annex|part)\s+)?(?:[A-Z]|\d+)(?:\.\d+)*[.:]?\s+`)

func entries(all []digest.Entry) (out []item) {
	for _, e := range all {
		out = append(out, item{e.Page, strings.ReplaceAll(text.Normal(counted.ReplaceAllString(e.Title, "")), " ", "")})
	}
	return out
}
