package web

import (
	"context"

	"meldung/core/ids"
	"meldung/pages/deskpage"
	"meldung/pages/rollcallpage"
	"meldung/work"
	"meldung/work/rollcall"
	"meldung/work/school"
)

// KeyedByRollCall is a write to a roll call.
type KeyedByRollCall[T any] struct {
	Roll ids.RollCall `path:"roll"`
	Keyed[T]
}

// OfRollCall is a look at a roll call.
type OfRollCall struct {
	Roll ids.RollCall `path:"roll"`
}

// rollCallRoutes are to find everyone on the premises, and who of no roll is there.
func (s *server) rollCallRoutes() {
	get(s, work.MaySeeRunning, "/roll-call/running", "The roll call that runs", func(ctx context.Context, _ *struct{}) (*body[rollcallpage.Running], error) {
		return answer(rollcallpage.ShowRunning(ctx, s.office))
	})
	get(s, work.MaySeeRollCall, "/roll-call", "Who is to be found", func(ctx context.Context, _ *struct{}) (*body[rollcallpage.RollCallView], error) {
		return answer(rollcallpage.Show(ctx, s.office, person(ctx)))
	})
	get(s, work.MayPrintRollCall, "/roll-call/paper", "Who is to be found, on paper", func(ctx context.Context, _ *struct{}) (*fileBody, error) {
		f, err := rollcallpage.Paper(ctx, s.office)
		return answerFile(f, err, "inline")
	})
	post(s, work.MayStartRollCall, "/roll-calls", "Begin a roll call", func(ctx context.Context, in *Keyed[rollcall.Start]) (*body[rollcall.Begun], error) {
		return answer(rollcall.Begin(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	get(s, work.MaySeeTicks, "/roll-calls/{roll}/ticks", "Who was ticked since", func(ctx context.Context, in *struct {
		OfRollCall
		After ids.Entry `query:"after" minimum:"0" doc:"The entry of the journal up to which ticks are known; 0 for none"`
	}) (*body[rollcallpage.TicksView], error) {
		return answer(rollcallpage.ShowTicks(ctx, s.office, person(ctx), in.Roll, in.After))
	})
	post(s, work.MayTick, "/roll-calls/{roll}/ticks", "Tick people", func(ctx context.Context, in *KeyedByRollCall[rollcall.Ticks]) (*body[rollcall.Taken], error) {
		return answer(rollcall.AddTicks(ctx, s.office, person(ctx), in.Key, in.Roll, in.Body))
	})
	post(s, work.MayEndRollCall, "/roll-calls/{roll}/end", "End a roll call", func(ctx context.Context, in *KeyedByRollCall[rollcall.RollCallEnding]) (*body[work.Receipt], error) {
		return answer(rollcall.End(ctx, s.office, person(ctx), in.Key, in.Roll, in.Body))
	})
	get(s, work.MaySeeRollCalls, "/roll-calls", "The roll calls of the school year", func(ctx context.Context, _ *struct{}) (*body[rollcallpage.RollCallsView], error) {
		return answer(rollcallpage.ShowAll(ctx, s.office))
	})
	get(s, work.MaySeeRollRecord, "/roll-calls/{roll}/record", "What came of a roll call", func(ctx context.Context, in *OfRollCall) (*body[rollcallpage.RecordView], error) {
		return answer(rollcallpage.ShowRecord(ctx, s.office, in.Roll))
	})
	get(s, work.MayKeepRollRecord, "/roll-calls/{roll}/file", "What came of a roll call as a file", func(ctx context.Context, in *struct {
		OfRollCall
		Format string `query:"format" enum:"csv,xlsx" required:"true"`
	}) (*fileBody, error) {
		f, err := rollcallpage.RecordFile(ctx, s.office, in.Roll, in.Format)
		return answerFile(f, err, "attachment")
	})
	post(s, work.MaySetMeetingPoint, "/school/meeting-points", "Decide where everybody goes", func(ctx context.Context, in *Keyed[school.MeetingPoints]) (*body[work.Receipt], error) {
		return answer(school.SetMeetingPoints(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	s.visitRoutes()
}

func (s *server) visitRoutes() {
	get(s, work.MaySeeVisits, "/visits", "Visitors and staff who signed in", func(ctx context.Context, _ *struct{}) (*body[rollcallpage.VisitsView], error) {
		return answer(rollcallpage.ShowVisits(ctx, s.office))
	})
	post(s, work.MaySignInVisitor, "/visits", "Sign somebody in", func(ctx context.Context, in *Keyed[rollcall.Visit]) (*body[work.Receipt], error) {
		return answer(rollcall.SignIn(ctx, s.office, person(ctx), in.Key, in.Body))
	})
	post(s, work.MaySignOutVisitor, "/visits/{id}/end", "Sign somebody out", func(ctx context.Context, in *KeyedByID[ids.Visit]) (*body[work.Receipt], error) {
		return answer(rollcall.SignOut(ctx, s.office, person(ctx), in.Key, in.ID))
	})
	post(s, work.MayBringBack, "/visits/{id}/back", "Somebody is in after all", func(ctx context.Context, in *KeyedByID[ids.Visit]) (*body[work.Receipt], error) {
		return answer(rollcall.BackIn(ctx, s.office, person(ctx), in.Key, in.ID))
	})
	post(s, work.MayVisitAtStation, "/station/visits", "A visitor signs in or out at a station", func(ctx context.Context, in *struct {
		OnStation
		Keyed[rollcall.AtStation]
	}) (*body[rollcall.VisitorReceipt], error) {
		page, err := deskpage.ShowStation(ctx, s.office, in.Station)
		if err != nil {
			return nil, problem(err)
		}
		move := func() (rollcall.VisitorReceipt, error) {
			return rollcall.MoveAtStation(ctx, s.office, page.ID, in.Key, in.Body)
		}
		if !in.Body.Leave {
			return answer(move())
		}
		out, err := limited(ctx, work.NotFound, move, reservation{s.stations, "visitors " + page.Name, false})
		if err != nil {
			return nil, err
		}
		return &body[rollcall.VisitorReceipt]{out}, nil
	})
}
