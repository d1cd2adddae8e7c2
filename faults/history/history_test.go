package history

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"
	"time"
)

func write(value string, begin, end int) Op {
	return Op{Register: "r", Client: "a", Write: true, Value: value, Begin: time.Duration(begin), End: time.Duration(end)}
}

func read(value string, begin, end int) Op {
	return Op{Register: "r", Client: "b", Value: value, Begin: time.Duration(begin), End: time.Duration(end)}
}

func lost(op Op) Op {
	op.Lost = true
	return op
}

func TestCheck(t *testing.T) {
	for name, test := range map[string]struct {
		ops   []Op
		right bool
	}{
		"one after another":        {[]Op{write("1", 0, 1), read("1", 2, 3)}, true},
		"nothing written":          {[]Op{read("0", 0, 1)}, true},
		"stale read":               {[]Op{write("1", 0, 1), write("2", 2, 3), read("1", 4, 5)}, false},
		"read while it is written": {[]Op{write("1", 0, 10), read("0", 1, 2), read("1", 3, 4)}, true},
		"back to what was before, while it is written": {[]Op{write("1", 0, 10), read("1", 1, 2), read("0", 3, 4)}, true},
		"lost, and seen":                                {[]Op{lost(write("1", 0, 1)), read("1", 50, 51)}, true},
		"lost, and never seen":                          {[]Op{lost(write("1", 0, 1)), read("0", 50, 51)}, true},
		"lost, seen and gone, at that time":             {[]Op{lost(write("1", 0, 1)), read("1", 2, 3), read("0", 4, 5)}, true},
		"lost, and seen later":                          {[]Op{lost(write("1", 0, 1)), read("0", 2, 3), read("1", 4, 5)}, true},
		"seen before it was written":                    {[]Op{read("1", 0, 1), write("1", 2, 3)}, false},
		"never written":                                 {[]Op{read("7", 0, 1)}, false},
		"two at once, either order":                     {[]Op{write("1", 0, 10), write("2", 0, 10), read("1", 11, 12)}, true},
		"two at once, not both orders":                  {[]Op{write("1", 0, 10), write("2", 0, 10), read("1", 11, 12), read("2", 13, 14)}, false},
		"a lost write undone by an older":               {[]Op{write("1", 0, 1), lost(write("2", 2, 3)), read("2", 4, 5), read("1", 6, 7)}, true},
		"lost, seen and gone, long after":               {[]Op{lost(write("1", 0, 1)), read("1", 40e9, 41e9), read("0", 50e9, 51e9)}, false},
		"back to what was before, after it":             {[]Op{write("1", 0, 10), read("0", 11, 12)}, false},
		"registers are apart":                           {[]Op{write("1", 0, 1), {Register: "other", Value: "", Begin: 2, End: 3}}, true},
		"a lost read says nothing":                      {[]Op{write("1", 0, 1), lost(read("7", 2, 3))}, true},
		"two clients disagree on what is being written": {[]Op{write("1", 0, 20), write("2", 0, 20), read("1", 1, 2), read("2", 3, 4), read("1", 5, 6)}, true},
	} {
		err := Check(test.ops, map[string]string{"r": "0"})
		if (err == nil) != test.right {
			t.Errorf("%s: %v", name, err)
		}
	}
}

func TestSaysWhat(t *testing.T) {
	err := Check([]Op{write("1", 0, 1), write("2", 2, 3), read("1", 4, 5)}, nil)
	if err == nil || !strings.Contains(err.Error(), `b read "1"`) {
		t.Errorf("it says %v", err)
	}
}

// TestManyAtOnce holds that an order is found for what was recorded on one register, and is not once
// one read is changed.
func TestManyAtOnce(t *testing.T) {
	random := rand.New(rand.NewPCG(1, 2))
	for range 50 {
		value := ""
		var ops []Op
		for i := range 300 {
			at := 10 * i
			begin, end := at-random.IntN(60), at+random.IntN(60)
			if random.IntN(2) == 0 {
				value = fmt.Sprint(i)
				op := write(value, begin, end)
				op.Lost = random.IntN(10) == 0
				ops = append(ops, op)
			} else {
				ops = append(ops, read(value, begin, end))
			}
		}
		if err := Check(ops, nil); err != nil {
			t.Fatal(err)
		}
		ops = append(ops, read("nobody wrote this", 1500, 1501))
		if Check(ops, nil) == nil {
			t.Fatal("a value that nobody wrote was read")
		}
	}
}
