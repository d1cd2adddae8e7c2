package manuals

import (
	"context"
	"fmt"
	"os"
	"path/filepath"

	"jardinet/api"
	"jardinet/service"
)

// Fill makes a collection of files and waits until all of them are ready.
func Fill(ctx context.Context, s *service.Service, collection string, files []string, recipe *api.Recipe) error {
	if _, err := s.CreateCollection(ctx, collection, recipe); err != nil {
		return err
	}
	for _, path := range files {
		f, err := os.Open(path)
		if err != nil {
			return err
		}
		_, err = s.Add(ctx, collection, filepath.Base(path), f)
		f.Close()
		if err != nil {
			return err
		}
	}
	docs, err := s.Settle(ctx, collection)
	if err != nil {
		return err
	}
	for _, d := range docs {
		if d.State == "failed" {
			return fmt.Errorf("%s: %s", d.Name, d.Reason)
		}
	}
	return nil
}
