package web

import (
	"crypto/rand"
	"log/slog"
	"time"

	"github.com/gin-gonic/gin"
)

// logged writes a line for each request: its number, which the answer carries too, its route
// and what came of it. What stands in the address, who asks and what is asked are not in it.
func logged(c *gin.Context) {
	id, begun := rand.Text()[:10], time.Now()
	c.Header("Request-Id", id)
	c.Next()
	slog.Info("request", "id", id, "method", c.Request.Method, "route", c.FullPath(), "status", c.Writer.Status(),
		"ms", time.Since(begun).Milliseconds(), "bytes", max(0, c.Writer.Size()))
}
