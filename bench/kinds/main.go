// Command kinds takes in ten files of every kind that is no PDF, asks of each, and looks at the
// page that is cited; then it changes files of each kind at random and has them read.
//
//	go run ./bench/kinds [-n 500] [-real DIR]
//
// -n is how many changed files of each kind are read. -real names a directory with files of any
// kind, such as those of installed packages: each is taken in, and it is told which could not be.
package main

import (
	"bytes"
	"context"
	"errors"
	"flag"
	"fmt"
	"log"
	"math/rand/v2"
	"os"
	"path/filepath"
	"strings"
	"text/tabwriter"
	"time"

	"jardinet/answer"
	"jardinet/api"
	"jardinet/pdfium"
	"jardinet/rendition"
	"jardinet/service"
)

func main() {
	pdfium.ServeReader()
	log.SetFlags(0)
	n := flag.Int("n", 500, "changed files of each kind")
	real := flag.String("real", "", "directory with files to take in")
	flag.Parse()
	if err := run(context.Background(), *n, *real); err != nil {
		log.Fatal("kinds: ", err)
	}
}

func run(ctx context.Context, n int, real string) error {
	data, err := os.MkdirTemp("", "kinds")
	if err != nil {
		return err
	}
	defer os.RemoveAll(data)
	s, err := service.Open(ctx, service.Options{Data: data, Scripts: []string{"none"}})
	if err != nil {
		return err
	}
	defer s.Close()
	table := tabwriter.NewWriter(os.Stdout, 0, 4, 2, ' ', 0)
	defer table.Flush()
	fmt.Fprintln(table, "KIND\tFILES\tREADY\tRIGHT\tPAGE SHOWN\tCHANGED\tREAD\tREFUSED\tSLOWEST")
	for _, k := range kinds {
		asked, err := ask(ctx, s, k)
		if err != nil {
			return err
		}
		changed, err := change(k, n)
		if err != nil {
			return err
		}
		fmt.Fprintf(table, "%s\t%s\t%s\n", k.extension, asked, changed)
	}
	if real == "" {
		return nil
	}
	return takeReal(ctx, s, table, real)
}

// ask takes ten files of a kind in and asks of each what it says.
func ask(ctx context.Context, s *service.Service, k kind) (string, error) {
	collection := strings.TrimPrefix(k.extension, ".")
	if _, err := s.CreateCollection(ctx, collection, nil); err != nil {
		return "", err
	}
	for i := range houses {
		t, _, _ := about(i)
		file, err := k.make(t)
		if err != nil {
			return "", err
		}
		if _, _, err := s.Put(ctx, collection, fmt.Sprintf("house-%d%s", i, k.extension), bytes.NewReader(file)); err != nil {
			return "", err
		}
	}
	docs, err := s.Settle(ctx, collection)
	if err != nil {
		return "", err
	}
	ready, right, shown := 0, 0, 0
	for _, d := range docs {
		if d.State == "ready" {
			ready++
		}
	}
	for i := range houses {
		_, question, want := about(i)
		a, err := s.Ask(ctx, collection, api.Ask{Question: question}, service.Listener{})
		if err != nil {
			return "", err
		}
		if strings.Contains(a.Short+" "+a.Text, want) {
			right++
			shown += show(ctx, s, collection, a, want)
		}
	}
	return fmt.Sprintf("%d\t%d\t%d\t%d", len(houses), ready, right, shown), nil
}

// show is 1 if what is cited says it, is marked, and stands on a page that can be drawn.
func show(ctx context.Context, s *service.Service, collection string, a *answer.Answer, want string) int {
	for _, c := range a.Citations {
		png, err := s.Picture(ctx, collection, c.DocumentID, c.Page, 40)
		if err == nil && len(png) > 0 && len(c.Boxes) > 0 && strings.Contains(c.Quote, want) {
			return 1
		}
	}
	return 0
}

// change reads files of a kind with bytes that were changed, cut out or put in.
func change(k kind, n int) (string, error) {
	read, refused, slowest := 0, 0, time.Duration(0)
	for i := range n {
		r := rand.New(rand.NewPCG(uint64(i), 28))
		t, _, _ := about(i % len(houses))
		file, err := k.make(t)
		if err != nil {
			return "", err
		}
		file = spoiled(file, r)
		since := time.Now()
		text, err := rendition.Read("file"+k.extension, file)
		if err == nil {
			_, err = rendition.PDF(text)
		}
		slowest = max(slowest, time.Since(since))
		switch {
		case err == nil:
			read++
		case errors.Is(err, rendition.ErrDamaged), errors.Is(err, rendition.ErrUnknown), errors.Is(err, rendition.ErrTooLarge):
			refused++
		default:
			return "", fmt.Errorf("%s, changed file %d: %w", k.extension, i, err)
		}
	}
	return fmt.Sprintf("%d\t%d\t%d\t%s", n, read, refused, slowest.Round(time.Millisecond)), nil
}

// spoiled changes one to eight places of a file.
func spoiled(data []byte, r *rand.Rand) []byte {
	data = bytes.Clone(data)
	for range 1 + r.IntN(8) {
		at := r.IntN(len(data))
		switch r.IntN(4) {
		case 0:
			data[at] = byte(r.IntN(256))
		case 1:
			data[at] ^= 1 << r.IntN(8)
		case 2:
			end := min(len(data), at+1+r.IntN(40))
			data = append(data[:at:at], data[end:]...)
		case 3:
			end := min(len(data), at+1+r.IntN(40))
			data = append(data[:at:at], append(bytes.Clone(data[at:end]), data[at:]...)...)
		}
		if len(data) == 0 {
			return []byte{0}
		}
	}
	return data
}

// takeReal takes the files of a directory in.
func takeReal(ctx context.Context, s *service.Service, table *tabwriter.Writer, dir string) error {
	if _, err := s.CreateCollection(ctx, "real", nil); err != nil {
		return err
	}
	files, ready := map[string]int{}, map[string]int{}
	err := filepath.WalkDir(dir, func(path string, e os.DirEntry, err error) error {
		if err != nil || e.IsDir() {
			return err
		}
		f, err := os.Open(path)
		if err != nil {
			return err
		}
		defer f.Close()
		files[filepath.Ext(path)]++
		if _, _, err := s.Put(ctx, "real", filepath.Base(path), f); err != nil && !errors.Is(err, service.ErrRefused) {
			return err
		} else if err != nil {
			fmt.Fprintln(os.Stderr, err)
		}
		return nil
	})
	if err != nil {
		return err
	}
	docs, err := s.Settle(ctx, "real")
	if err != nil {
		return err
	}
	for _, d := range docs {
		if d.State == "ready" {
			ready[filepath.Ext(d.Name)]++
		} else {
			fmt.Fprintln(os.Stderr, d.Name+":", d.Reason)
		}
	}
	for extension, n := range files {
		fmt.Fprintf(table, "%s, real\t%d\t%d\t\t\t\t\t\t\n", extension, n, ready[extension])
	}
	return nil
}
