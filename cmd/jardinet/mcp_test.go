package main

import (
	"os"
	"os/exec"
	"testing"

	"github.com/modelcontextprotocol/go-sdk/mcp"
)

// TestContextProtocol asks through the command, as a program around a model would start it.
func TestContextProtocol(t *testing.T) {
	d := serve(t, t.TempDir())
	if _, err := d.CreateCollection(t.Context(), "garden", nil); err != nil {
		t.Fatal(err)
	}
	cmd := exec.Command(os.Args[0], "mcp", "--server", d.address)
	cmd.Env = append(os.Environ(), asMain+"=1")
	c := mcp.NewClient(&mcp.Implementation{Name: "test", Version: "1"}, nil)
	s, err := c.Connect(t.Context(), &mcp.CommandTransport{Command: cmd}, nil)
	if err != nil {
		t.Fatal(err)
	}
	defer s.Close()
	r, err := s.CallTool(t.Context(), &mcp.CallToolParams{Name: "list_collections", Arguments: map[string]any{}})
	if err != nil || r.IsError {
		t.Fatalf("%+v, error %v", r, err)
	}
	all := r.StructuredContent.(map[string]any)["collections"].([]any)
	if len(all) != 1 || all[0].(map[string]any)["name"] != "garden" {
		t.Errorf("the collections are %v", all)
	}
}
