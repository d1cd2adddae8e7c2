package answer

import (
	"math"
	"slices"
	"testing"

	"jardinet/index"
)

func TestAmountsOf(t *testing.T) {
	for _, test := range []struct {
		question string
		want     []amount
	}{
		{"Who may sign for a purchase of £9,000?", []amount{{9000, "£"}}},
		{"What does a ticket for a 10-year-old cost?", []amount{{10, "year"}}},
		{"May I carry 20 kg or 3.5 litres?", []amount{{20, "kilogram"}, {3.5, "litre"}}},
		{"Who reviewed the 2024 policy?", nil},
		{"What does rule 4 say?", []amount{{4, "say"}}},
	} {
		if got := amountsOf(test.question); !slices.Equal(got, test.want) {
			t.Errorf("%q: %v, want %v", test.question, got, test.want)
		}
	}
}

func TestSlack(t *testing.T) {
	none, other := -1.0, math.NaN()
	for _, test := range []struct {
		s     string
		asked amount
		row   bool
		want  float64
	}{
		{"up to £250 · Who may sign: any grower", amount{9000, "£"}, true, other},
		{"up to £25,000 · Who may sign: the Director", amount{9000, "£"}, true, 16000},
		{"above £25,000 · Who may sign: Treasurer", amount{9000, "£"}, true, other},
		{"above £25,000 · Who may sign: Treasurer", amount{30000, "£"}, true, math.MaxFloat64},
		{"Child 3 to 15 · Single £: 2.00", amount{10, "year"}, true, 5},
		{"Child 3 to 15 · Single £: 2.00", amount{16, "year"}, true, other},
		{"A spill of more than five litres is told at once.", amount{7, "litre"}, false, math.MaxFloat64},
		{"At 32 °C and above, work is limited.", amount{35, "degree"}, false, math.MaxFloat64},
		{"No more than 25 kilograms travel at one time.", amount{20, "kilogram"}, false, 5},
		{"No more than 25 litres travel at one time.", amount{20, "kilogram"}, false, none},
	} {
		if got := slack(test.s, test.asked, test.row); got != test.want && !(math.IsNaN(got) && math.IsNaN(test.want)) {
			t.Errorf("%v in %q: %v, want %v", test.asked, test.s, got, test.want)
		}
	}
}

func TestOnlyTheNearestRowHolds(t *testing.T) {
	p := rows("up to £250 · any grower", "up to £2,500 · head of department", "up to £25,000 · Finance Director", "above £25,000 · Treasurer")
	for _, test := range []struct {
		asked string
		want  []float64
	}{
		{"a purchase of £200", []float64{1, -1, -1, -1}},
		{"a purchase of £9,000", []float64{-1, -1, 1, -1}},
		{"a purchase of £90,000", []float64{-1, -1, -1, 1}},
		{"a purchase", []float64{0, 0, 0, 0}},
	} {
		if got := bands(p, amountsOf(test.asked)); !slices.Equal(got, test.want) {
			t.Errorf("%q: %v, want %v", test.asked, got, test.want)
		}
	}
}

func TestAmountsInWords(t *testing.T) {
	for number, want := range map[string]float64{"Two": 2, "fifteen": 15, "sixty": 60, "hundred": 100, "25,000": 25000, "1.5": 1.5} {
		if a, ok := amountOf("", number, "litres"); !ok || a != (amount{want, "litre"}) {
			t.Errorf("%s litres are %+v", number, a)
		}
	}
	if a, ok := amountOf("£", "", ""); ok {
		t.Errorf("no number is %+v", a)
	}
}

func TestCurrenciesAreWrittenOut(t *testing.T) {
	for written, sign := range map[string]string{"Who may sign for 2,000 pounds?": "Who may sign for £2,000?", "A bill of 40 euros": "A bill of €40"} {
		if got, want := amountsOf(written), amountsOf(sign); len(got) != 1 || len(want) != 1 || got[0] != want[0] {
			t.Errorf("%q has %v, %q has %v", written, got, sign, want)
		}
	}
	a := asker(t)
	for _, term := range a.analyse("Who may sign for 2,000 pounds?", nil).query.Terms {
		if term.Word == "pounds" {
			t.Error("it looks for pounds")
		}
	}
	heavy := a.analyse("How many pounds does it weigh?", nil)
	if !slices.ContainsFunc(heavy.query.Terms, func(t index.Term) bool { return t.Word == "pounds" }) {
		t.Error("it does not look for pounds of weight")
	}
}
