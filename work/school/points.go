package school

import (
	"context"
	"reflect"
	"strings"

	"meldung/held"
	"meldung/work"
)

// MeetingPoints are where everybody goes when the building is left, for the whole school.
type MeetingPoints struct {
	Points []held.MeetingPoint `json:"points" maxItems:"40"`
	Was    []held.MeetingPoint `json:"was" maxItems:"40" doc:"As they were seen: where somebody has changed them since, nothing is stored"`
}

// SetMeetingPoints decides where everybody goes; a form is at one point, and none is named twice.
func SetMeetingPoints(ctx context.Context, o *work.Office, p work.Person, key string, m MeetingPoints) (work.Receipt, error) {
	var out work.Receipt
	err := o.Write(ctx, work.Job{By: p, Key: key, Needs: work.MaySetMeetingPoint, Kind: "meeting points", In: m, Out: &out}, func(tx *work.Tx, v work.Snapshot) error {
		if now := v.Sections()[0].Settings.MeetingPoints; (len(now) > 0 || len(m.Was) > 0) && !reflect.DeepEqual(now, m.Was) {
			return work.Conflictf("somebody has changed the meeting points since: nothing was saved, look at them again")
		}
		points, err := m.read()
		if err != nil {
			return err
		}
		for _, s := range v.Sections() {
			next := s.Settings
			next.MeetingPoints = points
			if err := tx.ChangeSettings(ctx, s.ID, next); err != nil {
				return err
			}
		}
		out = tx.Receipt("The meeting points are kept; the next roll call goes by them")
		return nil
	})
	return out, err
}

func (m MeetingPoints) read() ([]held.MeetingPoint, error) {
	var out []held.MeetingPoint
	names, at := map[string]bool{}, map[string]string{}
	for _, p := range m.Points {
		p.Name = strings.TrimSpace(p.Name)
		if fold := strings.ToLower(p.Name); p.Name == "" || names[fold] {
			return nil, work.Wrongf("each meeting point needs a name of its own; nothing was saved")
		} else {
			names[fold] = true
		}
		if len(p.Who) == 0 {
			return nil, work.Wrongf("say who goes to %s; nothing was saved", p.Name)
		}
		for _, who := range p.Who {
			if other, twice := at[strings.ToLower(who)]; twice {
				return nil, work.Wrongf("%s goes to %s and to %s; nothing was saved", who, other, p.Name)
			}
			at[strings.ToLower(who)] = p.Name
		}
		out = append(out, p)
	}
	return out, nil
}
