package web

import (
	"encoding/json"
	"errors"
	"io"
	"log/slog"
	"net/http"
	"time"

	"meldung/outside"
	"meldung/work"
	"meldung/work/messages"
)

// How a kind of message leaves the house.
const (
	NoLine    = "none"      // it waits
	Simulated = "simulated" // it is invented what becomes of it
	Carried   = "carried"   // by a carrier
)

// Lines are how messages leave the house.
type Lines struct {
	Text  string `json:"text" enum:"none,simulated,carried"`
	EMail string `json:"eMail" enum:"none,simulated,carried"`

	Printer string `json:"printer" enum:"none,simulated,carried"`
}

// mostReports bounds the body of a carrier's reports.
const mostReports = 256 << 10

// carrierReports takes what a carrier tells of messages: receipts and answers, signed by the
// secret that it shares with the school.
func (s *server) carrierReports(w http.ResponseWriter, r *http.Request) {
	if s.options.CarrierSecret == "" {
		http.NotFound(w, r)
		return
	}
	body, err := io.ReadAll(http.MaxBytesReader(w, r.Body, mostReports))
	if err != nil {
		http.Error(w, "that is more than is taken at once", http.StatusRequestEntityTooLarge)
		return
	}
	if err := outside.Verify(s.options.CarrierSecret, r.Header.Get(outside.TimestampHeader), r.Header.Get(outside.SignatureHeader), body, time.Now()); err != nil {
		http.Error(w, err.Error(), http.StatusUnauthorized)
		return
	}
	var told struct {
		Reports []messages.CarrierReport `json:"reports"`
	}
	if err := json.Unmarshal(body, &told); err != nil {
		http.Error(w, "that is no list of reports; nothing was taken", http.StatusUnprocessableEntity)
		return
	}
	taken, err := messages.TakeReports(r.Context(), s.office, told.Reports)
	var mistake *work.Error
	switch {
	case errors.As(err, &mistake):
		http.Error(w, mistake.Message, http.StatusUnprocessableEntity)
		return
	case err != nil:
		slog.Error("taking a carrier's reports", "error", err)
		http.Error(w, "something went wrong here; nothing was taken", http.StatusInternalServerError)
		return
	}
	w.Header().Set("Content-Type", "application/json")
	if err := json.NewEncoder(w).Encode(taken); err != nil {
		slog.Error("answering a carrier", "error", err)
	}
}
