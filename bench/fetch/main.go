// Command fetch brings the real manuals into bench/cache.
package main

import (
	"context"
	"log"

	"jardinet/bench/manuals"
)

func main() {
	log.SetFlags(0)
	if err := manuals.Fetch(context.Background(), "bench/cache/manuals", log.Printf); err != nil {
		log.Fatal("fetch: ", err)
	}
	log.Printf("%d manuals are in bench/cache/manuals", len(manuals.All()))
}
