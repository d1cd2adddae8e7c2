// Package embed turns texts into vectors, so that what means much the same is near each
// other though it shares no word, in whatever language it is said.
//
// Two encoders come with the program: a small one for English, and a larger one for the
// other languages that are written in Latin script, which was taught to point where the
// English one does (train/align.py; Reimers and Gurevych 2020). So all vectors lie in one
// space: a question in one language finds a passage in another, and English pays nothing
// for that.
package embed

import (
	"context"
	"crypto/sha256"
	_ "embed"
	"encoding/hex"
	"sync"

	"jardinet/encoder"
	"jardinet/text"
)

var (
	//go:embed english.model
	english []byte
	//go:embed multilingual.model
	multilingual []byte
)

// Dimensions is how many numbers a vector has.
const Dimensions = 384

// What is made of the files at first use. These are functions and no package variables, so
// that a program which only names this package's types does not carry the files.
var (
	named, openedEnglish, openedOthers sync.Once
	name                               string
	englishModel, othersModel          *encoder.Model
)

// Name names the encoders and their version; vectors of two names cannot be compared.
func Name() string {
	named.Do(func() {
		sum := sha256.New()
		sum.Write(english)
		sum.Write(multilingual)
		name = "built-in " + hex.EncodeToString(sum.Sum(nil)[:6])
	})
	return name
}

func forEnglish() *encoder.Model {
	openedEnglish.Do(func() { englishModel = open(english) })
	return englishModel
}

func forOthers() *encoder.Model {
	openedOthers.Do(func() { othersModel = open(multilingual) })
	return othersModel
}

func open(data []byte) *encoder.Model {
	m, err := encoder.Open(data)
	if err != nil {
		panic(err) // the program was built wrong
	}
	return m
}

// Model returns the encoder for texts in a language.
func Model(language text.Language) *encoder.Model {
	if language == text.English {
		return forEnglish()
	}
	return forOthers()
}

// A Text is what gets a vector.
type Text struct {
	Body     string
	Language text.Language
}

// Texts returns a vector of length one for each text. It ends early with the context's
// error.
func Texts(ctx context.Context, role encoder.Role, texts ...Text) ([][]float32, error) {
	out := make([][]float32, len(texts))
	for _, wantEnglish := range []bool{true, false} {
		var bodies []string
		var places []int
		for i, t := range texts {
			if (t.Language == text.English) == wantEnglish {
				bodies, places = append(bodies, t.Body), append(places, i)
			}
		}
		if len(bodies) == 0 {
			continue
		}
		vectors, err := Model(texts[places[0]].Language).Encode(ctx, role, bodies...)
		if err != nil {
			return nil, err
		}
		for k, at := range places {
			out[at] = vectors[k]
		}
	}
	return out, nil
}

// Knows tells whether an encoder has a word as one piece: then it is a common word of the
// language, and spelt right.
func Knows(word string, language text.Language) bool {
	return len(Model(language).Pieces(word, 2)) == 1
}
