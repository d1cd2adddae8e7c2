package service

import (
	"errors"
	"fmt"
	"strings"
	"testing"
)

func TestReadFieldList(t *testing.T) {
	for in, want := range map[string]string{
		"\ufeffdocument,department,year\nferns.pdf,estates,2025\n": "[{ferns.pdf map[department:estates year:2025]}]",
		`[{"document":"ferns.pdf","year":2025,"old":null}]`:        "[{ferns.pdf map[old: year:2025]}]",
		"[]": "[]",
	} {
		list, err := ReadFieldList(strings.NewReader(in))
		if got := fmt.Sprint(list); err != nil || got != want {
			t.Errorf("%q is %s, error %v; want %s", in, got, err, want)
		}
	}
	for in, says := range map[string]string{
		"":                                "send CSV",
		"document\n":                      "send CSV",
		"document,a\nx,1,2\n":             "wrong number of fields",
		`{"document":"x"}`:                "send a list",
		`[{"name":"x"}]`:                  `entry 1 has no "document"`,
		`[{"document":"x","tags":["a"]}]`: `the value of "tags" is neither`,
	} {
		if _, err := ReadFieldList(strings.NewReader(in)); !errors.Is(err, ErrInvalid) || !strings.Contains(err.Error(), says) {
			t.Errorf("%q gives %v", in, err)
		}
	}
}
