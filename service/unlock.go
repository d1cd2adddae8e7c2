package service

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"os"

	"github.com/pdfcpu/pdfcpu/pkg/api"
	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu"
	settings "github.com/pdfcpu/pdfcpu/pkg/pdfcpu/model"

	"jardinet/ledger"
	"jardinet/store"
)

// Unlock has a PDF read that asks for a password. The password is used once and kept nowhere;
// what is kept beside the original is a copy of its pages that asks for none.
func (s *Service) Unlock(ctx context.Context, collection, name, password string) error {
	_, d, err := s.document(ctx, collection, name)
	if err != nil {
		return err
	}
	if d.State != store.Failed {
		return fmt.Errorf("%s is %s, and asks for no password: %w", d.Name, d.State, ErrInvalid)
	}
	path, err := s.original(ctx, d.SHA256)
	if err != nil {
		return err
	}
	data, err := os.ReadFile(path)
	if err != nil {
		return fmt.Errorf("service: %w", err)
	}
	open, err := unlocked(data, password)
	if err != nil {
		return fmt.Errorf("%s: %w: %w", d.Name, err, ErrInvalid)
	}
	if err := s.store.KeepRendition(d.SHA256, open); err != nil {
		return err
	}
	if s.hosts != nil {
		if err := s.hosts.Ledger().Replace(ctx, ledger.Unlocked+d.SHA256, bytes.NewReader(open)); err != nil {
			return err
		}
	}
	return s.ReadAgain(ctx, collection, d.ID)
}

// unlocked returns a PDF as it is without its password.
func unlocked(data []byte, password string) (out []byte, err error) {
	defer func() {
		if p := recover(); p != nil { // the file may be damaged in any way
			err = fmt.Errorf("it cannot be unlocked: %v", p)
		}
	}()
	api.DisableConfigDir() // the library would keep settings of its own on the machine
	conf := settings.NewDefaultConfiguration()
	conf.UserPW, conf.OwnerPW, conf.ValidationMode, conf.Offline = password, password, settings.ValidationRelaxed, true
	var copied bytes.Buffer
	err = api.Decrypt(bytes.NewReader(data), &copied, conf)
	if errors.Is(err, pdfcpu.ErrWrongPassword) {
		return nil, errors.New("this is not its password")
	}
	if err != nil {
		return nil, fmt.Errorf("it cannot be unlocked: %w", err)
	}
	return copied.Bytes(), nil
}
