// Command words compares the words that are read from each page with those that pdftotext
// reads: what is lost, and what is invented, such as words glued together.
//
//	go run ./bench/words [-show 20] [-only NAME]
//
// Words are compared page by page as bags, folded, with hyphens at line ends mended on
// both sides.
package main

import (
	"cmp"
	"context"
	"flag"
	"fmt"
	"log"
	"maps"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"text/tabwriter"

	"jardinet/bench/manuals"
	"jardinet/bench/pages"
	"jardinet/pdfium"
	"jardinet/text"
)

const cache = "bench/cache/manuals"

func main() {
	pdfium.ServeReader()
	log.SetFlags(0)
	show := flag.Int("show", 0, "list so many of the words lost and invented most often")
	only := flag.String("only", "", "this manual alone")
	flag.Parse()
	if err := run(context.Background(), *show, *only); err != nil {
		log.Fatal("words: ", err)
	}
}

// A tally counts words over pages.
type tally struct{ words, lost, invented int }

func (t *tally) add(o tally) {
	t.words, t.lost, t.invented = t.words+o.words, t.lost+o.lost, t.invented+o.invented
}

func run(ctx context.Context, show int, only string) error {
	if err := manuals.Fetch(ctx, cache, log.Printf); err != nil {
		return err
	}
	engine := pdfium.NewEngine(pdfium.Options{})
	defer engine.Close()
	lost, invented := map[string]int{}, map[string]int{}
	var all tally
	w := tabwriter.NewWriter(os.Stdout, 0, 0, 2, ' ', 0)
	fmt.Fprintln(w, "MANUAL\tWORDS\tLOST %\tINVENTED %")
	for _, m := range manuals.All() {
		if only != "" && m.Name != only {
			continue
		}
		t, err := compare(ctx, engine, filepath.Join(cache, m.Name), lost, invented)
		if err != nil {
			return fmt.Errorf("%s: %w", m.Name, err)
		}
		all.add(t)
		t.print(w, m.Name)
	}
	all.print(w, "all")
	w.Flush()
	if show > 0 {
		list("Lost", lost, show)
		list("Invented", invented, show)
	}
	return nil
}

func (t *tally) print(w *tabwriter.Writer, name string) {
	n := float64(max(1, t.words))
	fmt.Fprintf(w, "%s\t%d\t%.3f\t%.3f\n", name, t.words, 100*float64(t.lost)/n, 100*float64(t.invented)/n)
}

func list(title string, words map[string]int, show int) {
	order := slices.SortedFunc(maps.Keys(words), func(a, b string) int { return cmp.Or(cmp.Compare(words[b], words[a]), cmp.Compare(a, b)) })
	fmt.Printf("\n%s most often\n", title)
	for _, word := range order[:min(show, len(order))] {
		fmt.Printf("%6d  %s\n", words[word], word)
	}
}

func compare(ctx context.Context, engine *pdfium.Engine, path string, lost, invented map[string]int) (tally, error) {
	ours, err := readOurs(ctx, engine, path)
	if err != nil {
		return tally{}, err
	}
	raw, err := exec.CommandContext(ctx, "pdftotext", path, "-").Output()
	if err != nil {
		return tally{}, fmt.Errorf("pdftotext: %w", err)
	}
	var out tally
	for i, page := range strings.Split(strings.TrimSuffix(string(raw), "\f"), "\f") {
		if i >= len(ours) {
			break
		}
		want, got := bag(page), bag(ours[i])
		for word, n := range want {
			out.words += n
			if missing := n - got[word]; missing > 0 {
				out.lost += missing
				lost[word] += missing
			}
		}
		for word, n := range got {
			if more := n - want[word]; more > 0 {
				out.invented += more
				invented[word] += more
			}
		}
	}
	return out, nil
}

func readOurs(ctx context.Context, engine *pdfium.Engine, path string) ([]string, error) {
	doc, err := pages.Read(ctx, engine, path)
	if err != nil {
		return nil, err
	}
	out := make([]string, len(doc.Pages))
	for i := range doc.Pages {
		var texts []string
		for _, b := range doc.Pages[i].Blocks {
			texts = append(texts, b.Text)
		}
		out[i] = strings.Join(texts, "\n")
	}
	return out, nil
}

// broken matches a word that is parted at the end of a line.
var broken = regexp.MustCompile(`(\pL)[-\x{ad}\x{2010}]\n\s*(\p{Ll})`)

func bag(s string) map[string]int {
	out := map[string]int{}
	for _, t := range text.Tokens(broken.ReplaceAllString(s, "$1$2")) {
		if strings.Trim(t.Word, "0123456789.,") != "" { // signs of figures are written in many ways
			out[t.Word]++
		}
	}
	return out
}
