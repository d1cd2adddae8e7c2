package server

import (
	"testing"

	"github.com/getkin/kin-openapi/openapi3"
)

func TestDescription(t *testing.T) {
	d, err := openapi3.NewLoader().LoadFromData(Description)
	if err != nil {
		t.Fatal(err)
	}
	if err := d.Validate(t.Context()); err != nil {
		t.Error(err)
	}
}
