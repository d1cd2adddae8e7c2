package sources

import (
	"context"
	"fmt"
	"path"
	"slices"

	"jardinet/folder"
	"jardinet/service"
)

// fieldLists are the names of files in a folder that give the documents beside them their fields.
var fieldLists = []string{"metadata.csv", "metadata.json"}

func isFieldList(at string) bool { return slices.Contains(fieldLists, path.Base(at)) }

// fields gives documents of a folder the fields that a list in it has for them. Those that are not
// there yet get theirs when they come.
func (l *look) fields(ctx context.Context, from folder.Folder, at folder.File) error {
	file, err := from.Open(ctx, at.Path)
	if err != nil {
		return err
	}
	defer file.Close()
	list, err := service.ReadFieldList(file)
	if err != nil {
		return fmt.Errorf("%s: %w", at.Path, err)
	}
	for i := range list {
		list[i].Document = folder.Name(path.Join(path.Dir(at.Path), list[i].Document))
	}
	if _, _, err := l.service.SetFieldList(ctx, l.collection, list); err != nil {
		return fmt.Errorf("%s: %w", at.Path, err)
	}
	l.known.Lists[at.Path] = at.State
	return nil
}
