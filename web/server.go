package web

import (
	"cmp"
	"embed"
	"encoding/json"
	"fmt"
	"io/fs"
	"mime"
	"net/http"
	"path"
	"strings"
	"time"

	"meldung/work"
	"meldung/work/access"
)

//go:embed all:dist
var dist embed.FS

// Handler returns everything the program serves: the API, the live events and
// the interface.
func Handler(office *work.Office, options Options) (http.Handler, error) {
	s := &server{office: office, options: options, sessions: newSessions(office, options),
		usernames: newLimiter(5, time.Minute), signIns: newLimiter(40, 4*time.Second), passes: newLimiter(20, 30*time.Second),
		phones: newLimiter(5, time.Minute), addresses: newLimiter(40, 4*time.Second),
		binders: newLimiter(3, 5*time.Minute), stations: newLimiter(3, 5*time.Second)}
	for _, line := range []*string{&s.options.Lines.Text, &s.options.Lines.EMail, &s.options.Lines.Printer} {
		*line = cmp.Or(*line, NoLine)
	}
	if s.looks = options.Looks; s.looks == nil {
		s.looks = access.New(office)
	}
	engine := newAPI(s)
	pages, err := fs.Sub(dist, "dist")
	if err != nil {
		return nil, err
	}
	mux := http.NewServeMux()
	mux.Handle("GET /healthz", &health{office: office})
	mux.HandleFunc("GET /api/live", s.live)
	mux.HandleFunc("POST /carriers/reports", s.carrierReports)
	mux.Handle("/api/", s.sessions.LoadAndSave(compressed(engine)))
	mux.Handle("/", interfaceFiles(pages))
	return s.headers(http.NewCrossOriginProtection().Handler(steady(mux, bodyAtOnce))), nil
}

func (s *server) headers(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		h := w.Header()
		h.Set("X-Content-Type-Options", "nosniff")
		h.Set("Referrer-Policy", "same-origin")
		h.Set("X-Frame-Options", "DENY")
		h.Set("Content-Security-Policy", "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; frame-ancestors 'none'; base-uri 'none'; form-action 'self'; object-src 'none'")
		if s.options.Secure {
			h.Set("Strict-Transport-Security", "max-age=31536000")
		}
		if strings.HasPrefix(r.URL.Path, "/api/") {
			h.Set("Cache-Control", "no-store")
		}
		next.ServeHTTP(w, r)
	})
}

// interfaceFiles serves the built interface; an address of a page gets index.html.
func interfaceFiles(pages fs.FS) http.Handler {
	files := http.FileServerFS(pages)
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		name := strings.TrimPrefix(path.Clean(r.URL.Path), "/")
		if info, err := fs.Stat(pages, name); err != nil || info.IsDir() {
			if path.Ext(name) != "" {
				http.NotFound(w, r)
				return
			}
			w.Header().Set("Cache-Control", "no-cache")
			http.ServeFileFS(w, r, pages, "index.html")
			return
		}
		if strings.HasPrefix(name, "assets/") {
			w.Header().Set("Cache-Control", "public, max-age=31536000, immutable")
		}
		for _, packed := range []struct{ coding, ending string }{{"br", ".br"}, {"gzip", ".gz"}} {
			if _, err := fs.Stat(pages, name+packed.ending); err == nil && strings.Contains(r.Header.Get("Accept-Encoding"), packed.coding) {
				w.Header().Set("Content-Encoding", packed.coding)
				w.Header().Set("Content-Type", mime.TypeByExtension(path.Ext(name)))
				w.Header().Add("Vary", "Accept-Encoding")
				http.ServeFileFS(w, r, pages, name+packed.ending)
				return
			}
		}
		files.ServeHTTP(w, r)
	})
}

// live streams what changes, one line an event, for as long as the browser listens.
func (s *server) live(w http.ResponseWriter, r *http.Request) {
	token := ""
	if c, err := r.Cookie(s.sessions.Cookie.Name); err == nil {
		token = c.Value
	}
	ctx, err := s.sessions.Load(r.Context(), token)
	if err != nil {
		http.Error(w, errSignIn.Message, http.StatusUnauthorized)
		return
	}
	if _, oneTime, err := s.signedIn(ctx, false); err != nil || oneTime {
		http.Error(w, errSignIn.Message, http.StatusUnauthorized)
		return
	}
	handle := s.sessions.GetString(ctx, handleKey)
	ctx, done := s.sessions.during(ctx, handle)
	defer done()
	events, stop := s.office.Listen()
	defer stop()
	w.Header().Set("Content-Type", "text/event-stream")
	out := http.NewResponseController(w)
	send := func(text string) bool {
		if _, err := fmt.Fprint(w, text); err != nil {
			return false
		}
		return out.Flush() == nil
	}
	if !send("retry: 1000\n: listening\n\n") {
		return
	}
	beat := time.NewTicker(20 * time.Second)
	defer beat.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case <-s.options.Closing:
			return
		case <-beat.C:
			if !s.sessions.touch(handle, false) || !send(": still here\n\n") {
				return
			}
		case e := <-events:
			text, err := json.Marshal(e)
			if err != nil || !send("data: "+string(text)+"\n\n") {
				return
			}
		}
	}
}
