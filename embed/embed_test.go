package embed

import (
	"context"
	"errors"
	"math"
	"testing"

	"jardinet/encoder"
	"jardinet/text"
)

// All vectors lie in one space: a sentence is nearest to its translation, whichever of the
// two is asked with.
func TestTranslationsAreNearest(t *testing.T) {
	meanings := [][]Text{
		{{"The glasshouse opens at ten in the morning.", text.English}, {"La serre ouvre à dix heures du matin.", "fr"}, {"Das Gewächshaus öffnet um zehn Uhr morgens.", "de"}},
		{{"Seeds are kept in the cold store.", text.English}, {"Les graines sont conservées dans la chambre froide.", "fr"}, {"Samen werden im Kühlraum aufbewahrt.", "de"}},
		{{"Dogs must be kept on a lead.", text.English}, {"Les chiens doivent être tenus en laisse.", "fr"}, {"Hunde sind an der Leine zu führen.", "de"}},
		{{"The accountant signs the invoices.", text.English}, {"Le comptable signe les factures.", "fr"}, {"Der Buchhalter unterschreibt die Rechnungen.", "de"}},
	}
	var all []Text
	for _, m := range meanings {
		all = append(all, m...)
	}
	vectors, err := Texts(t.Context(), encoder.Passage, all...)
	if err != nil {
		t.Fatal(err)
	}
	for i, v := range vectors {
		for k := range 3 {
			language := k
			best, at := -1.0, -1
			for m := range meanings {
				if c := cosine(v, vectors[3*m+language]); c > best {
					best, at = c, m
				}
			}
			if at != i/3 {
				t.Errorf("nearest to %q is %q", all[i].Body, all[3*at+language].Body)
			}
		}
	}
}

// A text's vector does not depend on those that it is encoded with.
func TestCompanyDoesNotMatter(t *testing.T) {
	one := Text{"Who waters the ferns?", text.English}
	alone, err := Texts(t.Context(), encoder.Query, one)
	if err != nil {
		t.Fatal(err)
	}
	together, err := Texts(t.Context(), encoder.Query, Text{"Qui arrose les fougères ?", "fr"}, one, Text{"", text.English})
	if err != nil {
		t.Fatal(err)
	}
	if len(together) != 3 {
		t.Fatalf("%d vectors of 3 texts", len(together))
	}
	for i := range alone[0] {
		if alone[0][i] != together[1][i] {
			t.Fatalf("number %d is %v alone and %v in company", i, alone[0][i], together[1][i])
		}
	}
	for i, v := range together {
		if length := math.Sqrt(cosine(v, v)); len(v) != Dimensions || math.Abs(length-1) > 1e-5 {
			t.Errorf("vector %d has %d numbers and length %v", i, len(v), length)
		}
	}
}

func TestCancelledEncoding(t *testing.T) {
	ctx, cancel := context.WithCancel(t.Context())
	cancel()
	if _, err := Texts(ctx, encoder.Passage, Text{"The ferns are watered daily.", text.English}); !errors.Is(err, context.Canceled) {
		t.Errorf("a cancelled encoding returns %v", err)
	}
}

func cosine(a, b []float32) float64 {
	sum := 0.0
	for i := range a {
		sum += float64(a[i]) * float64(b[i])
	}
	return sum
}
