package wordvec

import (
	"crypto/sha256"
	_ "embed"
	"encoding/hex"
	"sync"
)

//go:embed words.bin
var words []byte

// Default returns the model that comes with the program.
var Default = sync.OnceValue(func() *Model {
	m, err := Decode(words)
	if err != nil {
		panic(err) // the program was built wrong
	}
	return m
})

// Name names the model that comes with the program and its version.
var Name = sync.OnceValue(func() string {
	sum := sha256.Sum256(words)
	return "built-in " + hex.EncodeToString(sum[:6])
})
