package digest

import (
	"context"

	"jardinet/encoder"
	"jardinet/text"
)

// What people and things are like. Whether a name is somebody's is decided by which of the two it
// is nearer to in the encoder's space, in whatever language.
var (
	likePeople = []string{"a person", "people", "an employee", "staff and visitors", "the manager of a department", "someone who works here"}
	likeThings = []string{"a thing", "objects", "a machine or device", "material and equipment", "a document or rule", "a building or room"}
)

// nearer is by how much a name has to be nearer to people.
const nearer = 0.045

// people tells which of some names are somebody's.
func people(ctx context.Context, names map[string]text.Language, encode Encode) (map[string]bool, error) {
	out := map[string]bool{}
	if len(names) == 0 {
		return out, nil
	}
	one, err := encode(ctx, likePeople, text.English)
	if err != nil {
		return nil, err
	}
	other, err := encode(ctx, likeThings, text.English)
	if err != nil {
		return nil, err
	}
	by := map[text.Language][]string{}
	for name, language := range names {
		by[language] = append(by[language], name)
	}
	for language, names := range by {
		vectors, err := encode(ctx, names, language)
		if err != nil {
			return nil, err
		}
		for i, v := range vectors {
			out[names[i]] = mean(v, one)-mean(v, other) > nearer
		}
	}
	return out, nil
}

// mean is the mean likeness of a vector to others.
func mean(v []float32, to [][]float32) float64 {
	sum := 0.0
	for _, o := range to {
		sum += encoder.Cosine(v, o)
	}
	return sum / float64(max(len(to), 1))
}
