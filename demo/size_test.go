package demo_test

import (
	"os"
	"runtime"
	"strconv"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"meldung/core/day"
	"meldung/demo"
	"meldung/demo/demotest"
	"meldung/pages"
	"meldung/pages/absencepage"
	"meldung/store"
	"meldung/work"
)

func TestSizeTmp(t *testing.T) {
	n, _ := strconv.Atoi(os.Getenv("N"))
	y, _ := strconv.Atoi(os.Getenv("Y"))
	if y == 0 {
		t.Skip()
	}
	folder := os.Getenv("F")
	db, err := store.Open(t.Context(), folder)
	require.NoError(t, err)
	accounts, err := store.Accounts(t.Context(), db.Read())
	require.NoError(t, err)
	if len(accounts) == 0 {
		begin := time.Now()
		s := demo.NewOf(demo.Options{Students: n, Years: y})
		t.Log("planned", time.Since(begin))
		require.NoError(t, s.Build(t.Context(), db, day.MustDate("2026-03-10"), func(int) {}))
		t.Log("built", time.Since(begin))
	}
	runtime.GC()
	begin := time.Now()
	clock := demotest.NewClock(day.At(day.MustDate("2026-03-10"), day.MustMinute("09:12")))
	o, err := work.Open(t.Context(), db, clock)
	require.NoError(t, err)
	t.Log("opened", time.Since(begin))
	var m runtime.MemStats
	runtime.GC()
	runtime.ReadMemStats(&m)
	t.Log("heap MB", m.HeapAlloc>>20, "sys", m.Sys>>20)
	begin = time.Now()
	v, err := absencepage.Show(t.Context(), o, "", pages.AbsenceAsk{})
	require.NoError(t, err)
	t.Log("absence page", time.Since(begin), v.Students, v.School)
	begin = time.Now()
	_, err = absencepage.Show(t.Context(), o, "", pages.AbsenceAsk{})
	t.Log("absence page again", time.Since(begin))
	begin = time.Now()
	v, err = absencepage.Show(t.Context(), o, "2025-07-17", pages.AbsenceAsk{})
	require.NoError(t, err)
	t.Log("last year", time.Since(begin), v.Students, v.School)
	begin = time.Now()
	wrong, err := o.Check(t.Context())
	require.NoError(t, err)
	require.Empty(t, wrong)
	t.Log("check", time.Since(begin))
	runtime.GC()
	runtime.ReadMemStats(&m)
	t.Log("heap MB", m.HeapAlloc>>20, "sys", m.Sys>>20)
}
