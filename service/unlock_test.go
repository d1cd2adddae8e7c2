package service

import (
	"bytes"
	"os"
	"strings"
	"testing"

	"github.com/pdfcpu/pdfcpu/pkg/api"
	settings "github.com/pdfcpu/pdfcpu/pkg/pdfcpu/model"
)

// TestPasswords has a locked file read, shown and answered from, and the password kept nowhere.
func TestPasswords(t *testing.T) {
	plain, err := os.ReadFile(documents + "quarantine-policy-2024.pdf")
	if err != nil {
		t.Fatal(err)
	}
	const password = "maidenhair"
	api.DisableConfigDir()
	var locked bytes.Buffer
	if err := api.Encrypt(bytes.NewReader(plain), &locked, settings.NewAESConfiguration(password, password, 256)); err != nil {
		t.Fatal(err)
	}
	dir := t.TempDir()
	s := open(t, dir)
	if _, err := s.CreateCollection(t.Context(), "garden", nil); err != nil {
		t.Fatal(err)
	}
	if _, err := s.Add(t.Context(), "garden", "locked.pdf", &locked); err != nil {
		t.Fatal(err)
	}
	if docs, err := s.Settle(t.Context(), "garden"); err != nil || docs[0].State != "failed" || !strings.Contains(docs[0].Reason, "password") {
		t.Fatalf("it is %+v, error %v", docs, err)
	}
	if err := s.Unlock(t.Context(), "garden", "locked.pdf", "bracken"); err == nil || !strings.Contains(err.Error(), "not its password") {
		t.Errorf("with another password: %v", err)
	}
	if err := s.Unlock(t.Context(), "garden", "locked.pdf", password); err != nil {
		t.Fatal(err)
	}
	if docs, err := s.Settle(t.Context(), "garden"); err != nil || docs[0].State != "ready" || docs[0].Pages != 6 {
		t.Fatalf("unlocked it is %+v, error %v", docs, err)
	}
	if png, err := s.Picture(t.Context(), "garden", "locked.pdf", 1, 30); err != nil || len(png) == 0 {
		t.Errorf("its picture has %d bytes, error %v", len(png), err)
	}
}
