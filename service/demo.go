package service

import (
	"context"
	"errors"
	"io/fs"

	"jardinet/api"
	"jardinet/demo"
	"jardinet/measure"
	"jardinet/rank"
)

// AddDemo makes a collection of the made-up documents that the program carries, with their
// glossary and lessons, and queues those of its documents that were not added before. One that
// is there keeps what it was taught since.
func (s *Service) AddDemo(ctx context.Context) (*Collection, error) {
	_, err := s.CreateCollection(ctx, demo.Collection, nil)
	if err == nil {
		err = s.teachDemo(ctx)
	}
	if err != nil && !errors.Is(err, ErrExists) {
		return nil, err
	}
	files := demo.Documents()
	names, err := fs.Glob(files, "*.pdf")
	if err != nil {
		return nil, err
	}
	for _, name := range names {
		if d, err := s.Document(ctx, demo.Collection, name); err == nil && d.State != "replaced" {
			continue // whatever became of it, it has been added before
		}
		file, err := files.Open(name)
		if err != nil {
			return nil, err
		}
		_, err = s.Add(ctx, demo.Collection, name, file)
		file.Close()
		if err != nil {
			return nil, err
		}
	}
	return s.Collection(ctx, demo.Collection)
}

// teachDemo gives the demo's collection its description, glossary and lessons.
func (s *Service) teachDemo(ctx context.Context) error {
	if err := s.SetDescription(ctx, demo.Collection, demo.Description); err != nil {
		return err
	}
	entries, err := rank.ReadGlossary(demo.Glossary())
	if err != nil {
		return err
	}
	if _, err := s.SetGlossary(ctx, demo.Collection, entries); err != nil {
		return err
	}
	set, err := measure.ReadSet("lessons.jsonl", demo.Lessons())
	if err != nil {
		return err
	}
	_, err = s.Teach(ctx, demo.Collection, api.LessonsOf(set))
	return err
}
