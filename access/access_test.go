package access

import (
	"encoding/json"
	"strings"
	"testing"
)

func TestPassphrases(t *testing.T) {
	kept := HashPassphrase("four loose garden words")
	if !strings.HasPrefix(kept, "$argon2id$v=19$m=19456,t=2,p=1$") {
		t.Errorf("kept as %s", kept)
	}
	if kept == HashPassphrase("four loose garden words") {
		t.Error("two people with one passphrase can be told by what is kept")
	}
	for _, test := range []struct {
		kept, tried string
		want        bool
	}{
		{kept, "four loose garden words", true},
		{kept, "four loose garden word", false},
		{"", "four loose garden words", false},
		{"", "", false},
		{"$argon2id$broken", "four loose garden words", false},
	} {
		if got := IsPassphrase(test.kept, test.tried); got != test.want {
			t.Errorf("%.20s and %q: %v", test.kept, test.tried, got)
		}
	}
}

func TestCheckPassphrase(t *testing.T) {
	for passphrase, want := range map[string]string{
		"four loose garden words":  "",
		"short":                    "at least 12",
		strings.Repeat("ab", 150):  "at most 200",
		"gwendolyn's garden words": "the name",
		"aaaaaaaaaaaaaaaa":         "again and again",
		"ümläute sind auch schön":  "",
	} {
		err := CheckPassphrase("gwendolyn", passphrase)
		if (err == nil) != (want == "") || err != nil && !strings.Contains(err.Error(), want) {
			t.Errorf("%q: %v, want %q", passphrase, err, want)
		}
	}
}

func TestRights(t *testing.T) {
	c := &Caller{Rights: map[string]Right{"a": Editor}}
	for collection, want := range map[string]Right{"a": Editor, "b": Known, "": Known} {
		if got := c.In(collection); got != want {
			t.Errorf("in %q: %s, want %s", collection, got, want)
		}
	}
	var nobody *Caller
	if nobody.In("a") != Anyone || (&Caller{Administrator: true}).In("b") != Administrator {
		t.Error("nobody, or an administrator, has the wrong right")
	}
	for _, bad := range []string{"", "anyone", "known", "administrator", "Reader"} {
		if r, err := ParseRight(bad); err == nil {
			t.Errorf("%q is read as %s", bad, r)
		}
	}
	if r, err := ParseRight("owner"); r != Owner || err != nil {
		t.Errorf("owner is read as %s, %v", r, err)
	}
}

func TestChain(t *testing.T) {
	entry := func(number int64, before, who string) []byte {
		data, err := json.Marshal(Entry{Number: number, Before: before, Who: who})
		if err != nil {
			t.Fatal(err)
		}
		return data
	}
	first := entry(1, "", "gwen")
	second := entry(2, Sum(first), "edda")
	for name, test := range map[string]struct {
		entries [][]byte
		good    bool
	}{
		"whole":        {[][]byte{first, second}, true},
		"changed":      {[][]byte{entry(1, "", "edda"), second}, false},
		"taken out":    {[][]byte{first, entry(3, Sum(second), "gwen")}, false},
		"not an entry": {[][]byte{first, []byte("{")}, false},
	} {
		var chain Chain
		var err error
		for _, e := range test.entries {
			if err == nil {
				err = chain.Next(e)
			}
		}
		if (err == nil) != test.good {
			t.Errorf("%s: %v", name, err)
		}
	}
}
