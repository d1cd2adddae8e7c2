package main

import (
	"bytes"
	"compress/zlib"
	"context"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"time"

	"jardinet/api"
)

// mostHeld is what the service and its readers may hold at most, in MiB, whatever they are given.
const mostHeld = 1024

// bombs are small files that take much to read. The service has to live, to stay below a bound of
// memory, and to take in another document meanwhile.
func bombs(ctx context.Context, _ int) ([]row, error) {
	dir, err := os.MkdirTemp("", "trust")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(dir)
	d, err := serve(ctx, filepath.Join(dir, "data"), "--memory", fmt.Sprint(mostHeld))
	if err != nil {
		return nil, err
	}
	defer d.kill()
	if _, err := d.CreateCollection(ctx, "garden", nil); err != nil {
		return nil, err
	}
	lines := strings.Repeat("0 4 Td ("+strings.Repeat("abcd ", 20)+") Tj\n", 3900)
	dense := "BT /F1 4 Tf 10 10 Td " + lines + "ET"
	nested := strings.Repeat("q 1 0 0 1 1 1 cm ", 200_000) + "BT /F1 12 Tf (deep) Tj ET"
	paths := strings.Repeat("0 0 m 500 500 l 0 500 l h W n ", 30_000)
	out := row{tried: fmt.Sprintf("small files that take much: the service lives, holds ≤ %d MiB, and takes in others", mostHeld)}
	for _, b := range []struct {
		name  string
		pages int
		body  string
		more  string
	}{
		{"glyphs", 400, dense, ""},
		{"labels", 20_000, "BT /F1 12 Tf 72 72 Td (a label) Tj ET", "/PageLabels<</Nums[0<</S/D/P(" + strings.Repeat("L", 4000) + ")>>]>>"},
		{"nested", 20, nested, ""},
		{"clipping", 60, paths, ""},
	} {
		path := filepath.Join(dir, b.name+".pdf")
		if err := os.WriteFile(path, bomb(b.pages, b.body, b.more), 0o600); err != nil {
			return nil, err
		}
		out.times++
		peak, problem := d.survives(ctx, path)
		if problem == "" && peak <= mostHeld {
			out.good++
		}
		out.says += fmt.Sprintf("%s %d MiB %s; ", b.name, peak, problem)
	}
	return []row{out}, nil
}

// survives hands a file in, and another after it, and waits for that one.
func (d *daemon) survives(ctx context.Context, path string) (peak int, problem string) {
	ctx, cancel := context.WithTimeout(ctx, 3*time.Minute)
	defer cancel()
	watched := make(chan int)
	done := make(chan struct{})
	go func() {
		most := 0
		tick := time.NewTicker(30 * time.Millisecond)
		defer tick.Stop()
		for {
			most = max(most, d.held())
			select {
			case <-done:
				watched <- most
				return
			case <-tick.C:
			}
		}
	}()
	problem = d.between(ctx, path)
	close(done)
	return <-watched, problem
}

func (d *daemon) between(ctx context.Context, path string) string {
	name := filepath.Base(path)
	added, _, err := d.Add(ctx, "garden", []string{path})
	if err != nil {
		return err.Error()
	}
	began := time.Now()
	if _, _, err := d.Add(ctx, "garden", []string{"demo/documents/visitor-incident-form.pdf"}); err != nil {
		return err.Error()
	}
	other := func(doc *api.Document) bool { return doc.Name == name || doc.Settled() }
	if _, err := d.Settle(ctx, "garden", other); err != nil {
		return "the other document: " + err.Error()
	}
	waited := time.Since(began)
	docs, err := d.Settle(ctx, "garden", (*api.Document).Settled)
	if err != nil {
		return err.Error()
	}
	for _, doc := range docs {
		if _, err := d.Remove(ctx, "garden", doc.ID, false); err != nil {
			return err.Error()
		}
		if err := d.Purge(ctx, "garden", doc.Name); err != nil {
			return err.Error()
		}
	}
	if len(added) == 1 && waited > time.Minute {
		return fmt.Sprintf("kept another waiting %s", waited.Round(time.Second))
	}
	return ""
}

// bomb is a PDF whose pages share one content.
func bomb(pages int, content, more string) []byte {
	var packed bytes.Buffer
	w := zlib.NewWriter(&packed)
	w.Write([]byte(content))
	w.Close()
	var out bytes.Buffer
	var at []int
	object := func(body string) {
		at = append(at, out.Len())
		fmt.Fprintf(&out, "%d 0 obj\n%s\nendobj\n", len(at), body)
	}
	out.WriteString("%PDF-1.5\n")
	object("<</Type/Catalog/Pages 2 0 R" + more + ">>")
	var kids strings.Builder
	for i := range pages {
		fmt.Fprintf(&kids, "%d 0 R ", i+5)
	}
	object(fmt.Sprintf("<</Type/Pages/Kids[%s]/Count %d>>", kids.String(), pages))
	object("<</Type/Font/Subtype/Type1/BaseFont/Helvetica>>")
	object(fmt.Sprintf("<</Length %d/Filter/FlateDecode>>\nstream\n%s\nendstream", packed.Len(), packed.String()))
	for range pages {
		object("<</Type/Page/Parent 2 0 R/MediaBox[0 0 600 800]/Contents 4 0 R/Resources<</Font<</F1 3 0 R>>>>>>")
	}
	start := out.Len()
	fmt.Fprintf(&out, "xref\n0 %d\n0000000000 65535 f \n", len(at)+1)
	for _, offset := range at {
		fmt.Fprintf(&out, "%010d 00000 n \n", offset)
	}
	fmt.Fprintf(&out, "trailer<</Size %d/Root 1 0 R>>\nstartxref\n%d\n%%%%EOF\n", len(at)+1, start)
	return out.Bytes()
}
