package web

import (
	"net/http"

	"github.com/klauspost/compress/gzhttp"
	"github.com/klauspost/compress/gzip"
)

// compressed compresses the answers of a handler that are not compressed yet, for those who take
// that.
func compressed(next http.Handler) http.Handler {
	wrap, err := gzhttp.NewWrapper(gzhttp.MinSize(leastPacked), gzhttp.CompressionLevel(gzip.BestSpeed), gzhttp.ExceptContentTypes([]string{"application/pdf", "image/png", "image/jpeg"}))
	if err != nil {
		panic(err) // what is asked of it above is wrong
	}
	return wrap(next)
}
