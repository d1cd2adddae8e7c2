package main

import (
	"context"
	"fmt"
	"path/filepath"
	"time"

	"jardinet/digest"
	"jardinet/passage"
	"jardinet/pdfium"
	"jardinet/text"
)

// onCost says how long reading, the vectors of the passages, and the digest take on real manuals.
func onCost(ctx context.Context, e *pdfium.Engine) error {
	paths, err := filepath.Glob("bench/cache/manuals/*.pdf")
	if err != nil {
		return err
	}
	var reading, encoding, digesting, of time.Duration // the last is the encoding within digesting
	pages := 0
	for _, path := range paths[:min(len(paths), mostTimed)] {
		since := time.Now()
		doc, marks, err := open(ctx, e, path)
		if err != nil {
			return err
		}
		reading += time.Since(since)
		pages += len(doc.Pages)
		since = time.Now()
		var bodies []string
		for _, p := range passage.Split(doc, passage.DefaultRecipe) {
			bodies = append(bodies, p.Text)
		}
		if _, err := encode(ctx, bodies, doc.Language); err != nil {
			return err
		}
		encoding += time.Since(since)
		since = time.Now()
		timed := func(ctx context.Context, texts []string, language text.Language) ([][]float32, error) {
			since := time.Now()
			defer func() { of += time.Since(since) }()
			return encode(ctx, texts, language)
		}
		if _, err := digest.Of(ctx, doc, marks, timed); err != nil {
			return err
		}
		digesting += time.Since(since)
		fmt.Printf("  %-32s %4d pages\n", filepath.Base(path), len(doc.Pages))
	}
	fmt.Printf("%d pages: reading %.1f s, vectors of the passages %.1f s; digests %.1f s, of which the encoder %.1f s\n", pages, reading.Seconds(), encoding.Seconds(), digesting.Seconds(), of.Seconds())
	return nil
}

// mostTimed is how many manuals are timed.
const mostTimed = 6
