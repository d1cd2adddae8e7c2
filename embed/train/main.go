// Command train makes word vectors from openly licensed text.
//
//	go run ./embed/train [-out embed/words.bin]
//
// Vectors are trained by skip-gram with negative sampling (Mikolov et al. 2013),
// drawn together along WordNet's relations (Faruqui et al. 2015), tuned on pairs
// of texts that mean much the same, and quantised to a byte a number. German and
// French words come to lie beside the English ones through help texts that are
// translated paragraph by paragraph. The same text gives the same file.
package main

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"flag"
	"log"
	"os"
	"path/filepath"
	"time"

	"jardinet/embed"
)

func main() {
	log.SetFlags(0)
	out := flag.String("out", "embed/words.bin", "where to write the vectors")
	cache := flag.String("cache", "bench/cache/text", "where to keep the text")
	flag.Parse()
	if err := run(context.Background(), *cache, *out); err != nil {
		log.Fatal("train: ", err)
	}
}

func run(ctx context.Context, cache, out string) error {
	start := time.Now()
	tell := func(what string) func(share float64) {
		told := 0.0
		return func(share float64) {
			if share-told >= 0.1 || share == 1 {
				told = share
				log.Printf("%s %3.0f %%, %.0f s", what, 100*share, time.Since(start).Seconds())
			}
		}
	}
	c, err := gather(ctx, cache)
	if err != nil {
		return err
	}
	lines := c.lines()
	log.Printf("%d tokens, %d words, %.0f s", len(lines), len(c.words), time.Since(start).Seconds())
	t := newTrainer(c.counts)
	t.train(lines, tell("words"))
	general, err := c.general(generalPath(cache))
	if err != nil {
		return err
	}
	t.forget()
	vectors, err := c.retrofit(join(t.in, general, generalWidth), filepath.Join(cache, "wordnet-base"))
	if err != nil {
		return err
	}
	thesaurus, err := c.thesaurus(filepath.Join(cache, "moby", "package", "words.txt"))
	if err != nil {
		return err
	}
	pairs := c.pairs(thesaurus)
	log.Printf("%d pairs", len(pairs))
	weigh(vectors, c.counts)
	tune(vectors, pairs, tell("pairs"))
	provenance, err := json.Marshal(map[string]any{"sources": sources, "tokens": len(lines), "pairs": len(pairs), "text_sha256": c.sum, "dimensions": dimensions, "epochs": epochs})
	if err != nil {
		return err
	}
	data := embed.Encode(c.words, vectors, dimensions, provenance)
	sum := sha256.Sum256(data)
	log.Printf("%s: %d bytes, SHA-256 %s, %.0f s", out, len(data), hex.EncodeToString(sum[:]), time.Since(start).Seconds())
	return os.WriteFile(out, data, 0o644)
}

// weigh gives each unit vector a length of a/(a+p) with the word's share p of
// the text (SIF, Arora et al. 2017): what tuning begins with.
func weigh(vectors []float32, counts []int) {
	total := 0
	for _, n := range counts {
		total += n
	}
	for w, n := range counts {
		length := float32(1e-3 / (1e-3 + float64(n)/float64(total)))
		for d := w * dimensions; d < (w+1)*dimensions; d++ {
			vectors[d] *= length
		}
	}
}
