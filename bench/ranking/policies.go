package main

import (
	"context"
	_ "embed"
	"fmt"
	"os"
	"strings"

	"jardinet/embed"
	"jardinet/encoder"
	"jardinet/index"
	"jardinet/passage"
	"jardinet/rank"
	"jardinet/text"
)

// The made-up policies and the questions on them.
var (
	//go:embed policies.txt
	policies string
	//go:embed questions.txt
	questions string
	//go:embed abroad.txt
	abroad string
	//go:embed foreign.txt
	foreign string
	//go:embed abroad-reverse.txt
	reverse string
)

// A policySet is short texts with questions on them.
type policySet struct {
	title string
	texts [][]string // id, language, title, text
	asked [][]string // kind, question, id
}

var policySets = []policySet{
	{"A layperson's questions on made-up policies; \"far\" ones hardly share a word", fields(policies, "", "en"), fields(questions, "")},
	{"French and German questions on English policies", fields(policies, "", "en"), fields(abroad, "")},
	{"English questions on French and German rules", fields(foreign, ""), fields(reverse, "reverse")},
}

// fields splits lines at bars. Of texts without a language column, language is
// put in; questions without a kind are given one by the text's language.
func fields(file, kind string, language ...string) [][]string {
	var out [][]string
	for line := range strings.Lines(file) {
		line = strings.TrimSpace(line)
		if line == "" || line[0] == '#' {
			continue
		}
		var parts []string
		for part := range strings.SplitSeq(line, "|") {
			parts = append(parts, strings.TrimSpace(part))
		}
		if kind != "" {
			parts = append([]string{"English on " + parts[1][:2]}, parts...)
		}
		if len(language) > 0 {
			parts = append([]string{parts[0], language[0]}, parts[1:]...)
		}
		out = append(out, parts)
	}
	return out
}

// lists makes an index of the texts and gathers the candidates for each
// question.
func (p *policySet) lists(ctx context.Context) ([]list, error) {
	dir, err := os.MkdirTemp("", "policies")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(dir)
	x, err := index.Open(dir, index.Space{Model: embed.Name(), Dimensions: embed.Dimensions})
	if err != nil {
		return nil, err
	}
	var documents []index.Document
	for _, t := range p.texts {
		if len(t) != 4 {
			return nil, fmt.Errorf("policies: %q: want four fields", t)
		}
		pass := passage.Passage{Section: []string{t[2]}, Text: t[3], Language: text.Language(t[1])}
		stored, err := passage.Encode(&pass)
		if err != nil {
			return nil, err
		}
		vectors, err := embed.Texts(ctx, encoder.Passage, embed.Text{Body: t[2] + ": " + t[3], Language: pass.Language})
		if err != nil {
			return nil, err
		}
		documents = append(documents, index.Document{Key: t[0], Passages: []index.Passage{
			{Heading: t[2], Body: t[3], Language: pass.Language, Stored: stored, Vector: vectors[0]},
		}})
	}
	if err := x.Apply(documents, nil); err != nil {
		return nil, err
	}
	var out []list
	for _, q := range p.asked {
		question := rank.Question{Text: q[1], Language: text.Detect(q[1], text.English), Query: x.Parse(q[1])}
		vectors, err := embed.Texts(ctx, encoder.Query, embed.Text{Body: q[1], Language: question.Language})
		if err != nil {
			return nil, err
		}
		question.Query.Vector = vectors[0]
		found, err := rank.New().Search(ctx, x, &question, 1000)
		if err != nil {
			return nil, err
		}
		l := list{Document: q[2], Kind: q[0]}
		for _, c := range found {
			l.Features = append(l.Features, c.Features.Vector())
			l.Right = append(l.Right, c.Hit.Key == q[2])
		}
		out = append(out, l)
	}
	return out, nil
}
