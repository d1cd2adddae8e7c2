package server

import (
	"io/fs"
	"net/http"
	"path"
	"strings"

	"github.com/labstack/echo/v5"

	"jardinet/web"
)

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
	if strings.HasPrefix(name, "assets/") {
		c.Response().Header().Set("Cache-Control", "public, max-age=31536000, immutable") // named by content
	} else {
		c.Response().Header().Set("Cache-Control", "no-cache")
	}
	http.ServeFileFS(c.Response(), c.Request(), files, name)
	return nil
}
