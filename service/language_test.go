package service

import (
	"errors"
	"net/http/httptest"
	"slices"
	"strings"
	"testing"

	"jardinet/answer"
	"jardinet/api"
	"jardinet/modelapi"
	"jardinet/rank"
	"jardinet/simulated"
)

// model starts a stand-in for an outside model.
func model(t *testing.T, mode simulated.Mode) (*simulated.Server, modelapi.Server) {
	t.Helper()
	s, err := simulated.New(mode)
	if err != nil {
		t.Fatal(err)
	}
	server := httptest.NewServer(s)
	t.Cleanup(server.Close)
	return s, modelapi.Server{URL: server.URL + "/v1", Model: "stand-in"} // which open lets it reach
}

func TestGlossaryHoldsAtOnce(t *testing.T) {
	dir := t.TempDir()
	s := open(t, dir)
	create(t, s, "garden")
	add(t, s, "garden", "seed-vault-manual.pdf")
	settle(t, s, "garden")
	const question = "What is the set point of the frobnitz?"
	before, err := s.Ask(t.Context(), "garden", Ask{Question: question}, Listener{})
	if err != nil {
		t.Fatal(err)
	}
	g, err := s.Glossary(t.Context(), "garden")
	if err != nil || len(g.Unknown) == 0 || !slices.ContainsFunc(g.Found, func(e rank.Entry) bool { return e.Term != "" }) && len(g.Entries) != 0 {
		t.Errorf("the glossary is %+v, error %v", g, err)
	}
	if _, err = s.SetGlossary(t.Context(), "garden", []rank.Entry{{Kind: rank.Synonym, Term: "frobnitz", Means: "cold store"}}); err != nil {
		t.Fatal(err)
	}
	a, err := s.Ask(t.Context(), "garden", Ask{Question: question}, Listener{})
	if err != nil || a.Confidence <= before.Confidence || !slices.Contains(before.Unknown, "frobnitz") || slices.Contains(a.Unknown, "frobnitz") {
		t.Errorf("after: %s, confidence %.2f, unknown %q; before %.2f, %q; error %v", a.Text, a.Confidence, a.Unknown, before.Confidence, before.Unknown, err)
	}
	known := a.Confidence
	if _, err := s.SetGlossary(t.Context(), "garden", []rank.Entry{{Kind: "rhyme"}}); !errors.Is(err, ErrInvalid) {
		t.Errorf("a bad entry: %v", err)
	}
	s.Close()
	s = open(t, dir)
	if a, err = s.Ask(t.Context(), "garden", Ask{Question: question}, Listener{}); err != nil || a.Confidence != known {
		t.Errorf("after a restart: confidence %.2f, %.2f before it, error %v", a.Confidence, known, err)
	}
}

func TestOutsideEmbedding(t *testing.T) {
	outside, server := model(t, simulated.Busy)
	s := open(t, t.TempDir())
	create(t, s, "garden")
	add(t, s, "garden", "seed-vault-manual.pdf")
	settle(t, s, "garden")
	before := only(t, s).index.Load()
	recipe := api.DefaultRecipe
	recipe.Embedding = &Embedding{Server: server}
	if err := s.Reindex(t.Context(), "garden", recipe); err != nil {
		t.Fatal(err)
	}
	c, err := s.Collection(t.Context(), "garden")
	if err != nil || c.Recipe.Embedding == nil || c.Recipe.Embedding.Dimensions != simulated.Dimensions {
		t.Fatalf("the collection is %+v, error %v", c, err)
	}
	if now := only(t, s).index.Load(); now == before || now.Space().Dimensions != simulated.Dimensions {
		t.Error("no index was made beside the old one")
	}
	texts := outside.Texts.Load()
	a, err := s.Ask(t.Context(), "garden", Ask{Question: "How long may seed stay out of the cold store?"}, Listener{})
	if err != nil || a.State == answer.NotFound {
		t.Errorf("asked: %s, error %v", a.Text, err)
	}
	if outside.Texts.Load() != texts+1 {
		t.Errorf("%d texts were embedded for one question", outside.Texts.Load()-texts)
	}
	// What was embedded once is kept.
	if err := s.Reindex(t.Context(), "garden", api.DefaultRecipe); err != nil {
		t.Fatal(err)
	}
	texts = outside.Texts.Load()
	if err := s.Reindex(t.Context(), "garden", recipe); err != nil {
		t.Fatal(err)
	}
	if n := outside.Texts.Load() - texts; n != 1 {
		t.Errorf("%d texts were embedded again, want the one that tells the dimensions", n)
	}
}

// only returns the service's one collection.
func only(t *testing.T, s *Service) *collection {
	t.Helper()
	for _, c := range s.collections {
		return c
	}
	t.Fatal("there is no collection")
	return nil
}

func TestOutsideEmbeddingIsDown(t *testing.T) {
	_, server := model(t, simulated.Down)
	s := open(t, t.TempDir())
	create(t, s, "garden")
	recipe := api.DefaultRecipe
	recipe.Embedding = &Embedding{Server: server}
	if err := s.Reindex(t.Context(), "garden", recipe); !errors.Is(err, ErrInvalid) {
		t.Errorf("a dead server is taken: %v", err)
	}
	if c, err := s.Collection(t.Context(), "garden"); err != nil || c.Recipe.Embedding != nil {
		t.Errorf("the recipe is %+v, error %v", c.Recipe, err)
	}
}

func TestModelWithinItsBudget(t *testing.T) {
	outside, server := model(t, simulated.Good)
	s := open(t, t.TempDir())
	create(t, s, "garden")
	add(t, s, "garden", "seed-vault-manual.pdf")
	settle(t, s, "garden")
	m := &answer.Model{Server: server}
	m.MostTokens = m.Most().Prompt + m.Most().Completion // for one answer
	style := &answer.Style{Model: m}
	if err := s.SetStyle(t.Context(), "garden", style); err != nil {
		t.Fatal(err)
	}
	ask := Ask{Question: "What is the set point of the cold store?"}
	first, err := s.Ask(t.Context(), "garden", ask, Listener{})
	if err != nil || first.Note != "" || outside.Requests.Load() != 1 {
		t.Errorf("the first answer has note %q after %d requests, error %v", first.Note, outside.Requests.Load(), err)
	}
	second, err := s.Ask(t.Context(), "garden", ask, Listener{})
	if err != nil || !strings.Contains(second.Note, "budget") || outside.Requests.Load() != 1 {
		t.Errorf("the second answer has note %q after %d requests, error %v", second.Note, outside.Requests.Load(), err)
	}
}
