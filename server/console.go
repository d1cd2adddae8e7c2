package server

import (
	"bytes"
	"fmt"
	"io/fs"
	"net/http"
	"path"
	"strings"

	"github.com/labstack/echo/v5"

	"jardinet/access"
	"jardinet/web"
)

// front sends the console's page with a word that is new each time and lets styles in that carry
// it: those of dialogs, which are made when one opens.
func front(c *echo.Context, files fs.FS) error {
	page, err := fs.ReadFile(files, "index.html")
	if err != nil {
		return fmt.Errorf("console: %w", err)
	}
	nonce := access.NewToken()
	h := c.Response().Header()
	h.Set("Content-Security-Policy", contentSecurity+"; style-src 'self' 'nonce-"+nonce+"'")
	h.Set("Cache-Control", "no-store")
	return c.HTMLBlob(http.StatusOK, bytes.Replace(page, []byte("%NONCE%"), []byte(nonce), 1))
}

// console serves the console's files. An address that is no file is one of the
// console's own, which its script shows, so it gets the page.
func (s *Server) console(c *echo.Context) error {
	files := web.Files()
	name := strings.TrimPrefix(path.Clean("/"+c.Request().URL.Path), "/")
	if stat, err := fs.Stat(files, name); name == "" || err != nil || stat.IsDir() {
		if strings.HasPrefix(name, "assets/") {
			return echo.NewHTTPError(http.StatusNotFound, "no such file")
		}
		name = "index.html"
	}
	if _, err := fs.Stat(files, name); err != nil {
		return c.HTML(http.StatusOK, "<!doctype html><title>Jardinet</title><p>The console is not built into this program: run <code>make build</code>. The API is described at <a href=/api/v1/openapi.yaml>/api/v1/openapi.yaml</a>.")
	}
	if name == "index.html" {
		return front(c, files)
	}
	if strings.HasPrefix(name, "assets/") {
		c.Response().Header().Set("Cache-Control", "public, max-age=31536000, immutable") // named by content
	} else {
		c.Response().Header().Set("Cache-Control", "no-cache")
	}
	http.ServeFileFS(c.Response(), c.Request(), files, name)
	return nil
}
