package answer

import "testing"

func TestHowSureAnAnswerHasToBe(t *testing.T) {
	a := asker(t)
	const question = "How long may seed stay out of the cold store?"
	if got := ask(t, a, question); got.State == NotFound {
		t.Fatalf("as fitted, it is refused at %.2f", got.Confidence)
	}
	a.Style.Certain = 0.999
	if got := ask(t, a, question); got.State != NotFound || len(got.Nearest) == 0 {
		t.Errorf("at .999 it is %s, %d passages are near", got.State, len(got.Nearest))
	}
	a.Style.Certain = 0.001
	if got := ask(t, a, "Which gardener waters seed by night?"); got.State == NotFound && got.Confidence > 0.001 {
		t.Errorf("at .001 it is refused at %.3f", got.Confidence)
	}
	for certain, good := range map[float64]bool{0: true, 0.6: true, 1: true, -0.1: false, 1.1: false} {
		if err := (&Style{Certain: certain}).Validate(); (err == nil) != good {
			t.Errorf("certain %g: %v", certain, err)
		}
	}
}
