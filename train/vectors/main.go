// Command vectors prints what a model file makes of texts, for train/check.py: of each
// line of standard input a line of JSON with its tokens and, with -vectors, its vector.
package main

import (
	"bufio"
	"context"
	"encoding/json"
	"flag"
	"log"
	"os"
	"slices"

	"jardinet/encoder"
)

func main() {
	log.SetFlags(0)
	vectors := flag.Bool("vectors", false, "print vectors too")
	flag.Parse()
	if flag.NArg() != 1 {
		log.Fatal("usage: vectors [-vectors] MODEL < LINES")
	}
	data, err := os.ReadFile(flag.Arg(0))
	if err != nil {
		log.Fatal(err)
	}
	model, err := encoder.Open(data)
	if err != nil {
		log.Fatal(err)
	}
	if err := print(model, lines(), *vectors); err != nil {
		log.Fatal(err)
	}
}

func lines() []string {
	var out []string
	scanner := bufio.NewScanner(os.Stdin)
	scanner.Buffer(nil, 1<<24)
	for scanner.Scan() {
		var line string
		if err := json.Unmarshal(scanner.Bytes(), &line); err != nil {
			log.Fatalf("line %d is no JSON string: %v", len(out)+1, err)
		}
		out = append(out, line)
	}
	return out
}

func print(model *encoder.Model, texts []string, vectors bool) error {
	out := bufio.NewWriter(os.Stdout)
	defer out.Flush()
	write := json.NewEncoder(out)
	for batch := range slices.Chunk(texts, 256) {
		var made [][]float32
		if vectors {
			var err error
			if made, err = model.Encode(context.Background(), encoder.Passage, batch...); err != nil {
				return err
			}
		}
		for i, t := range batch {
			line := map[string]any{"tokens": model.Tokens(t)}
			if vectors {
				line["vector"] = made[i]
			}
			if err := write.Encode(line); err != nil {
				return err
			}
		}
	}
	return nil
}
