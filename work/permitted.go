package work

import (
	"slices"

	"meldung/core/ids"
	"meldung/store"
)

var (
	everyone       = Roles
	office         = []Role{Officer, Pastoral, Administrator}
	frontOfHouse   = []Role{Officer, Pastoral, Desk, Administrator}
	allButTeachers = []Role{Officer, Pastoral, Desk, Leader, Administrator}
	allButDesk     = []Role{Officer, Pastoral, Teacher, Leader, Administrator}
	registerTakers = []Role{Officer, Pastoral, Teacher, Administrator}
	reviewers      = []Role{Officer, Pastoral, Leader, Administrator}
	administrators = []Role{Administrator}
	withoutAccount []Role // open to those not signed in
)

// permitted is the table of permission × role. What is not in it is refused to everyone.
var permitted = map[Permission][]Role{
	MaySignIn: withoutAccount, MaySeeSignIn: withoutAccount,
	MaySeeSelf: everyone, MaySeeLeft: everyone, MaySignOut: everyone, MaySetPassword: everyone, MayJump: everyone,

	MaySeeRail: everyone, MayFind: everyone, MaySeeStudent: everyone, MaySeeSettings: everyone,
	MaySeeToday: allButTeachers, MaySeePart: allButTeachers, MaySeeCalls: office, MayKeepCalls: office,

	MaySeeRegisters: allButDesk, MaySeeAllRegisters: reviewers,
	MaySeeRegister: registerTakers, MaySendRegister: registerTakers, MayDraftRegister: registerTakers, MayCorrect: registerTakers,
	MaySeat: registerTakers, MaySeeCard: registerTakers,
	MayTakeAnyRegister: office,
	MaySeeDayTimes:     office, MaySetDayTimes: office,
	MaySeeStandIns: office, MayNameStandIn: office, MayEndStandIn: office,

	MaySeeHandOut: registerTakers, MaySetHandOut: registerTakers, MaySeeCheckIns: registerTakers, MayKeepCheckIns: registerTakers, MayOpenCheckIn: registerTakers, MaySeeCheckInCode: registerTakers, MayEndCheckIn: registerTakers, MayRepeatCheckIn: registerTakers,
	MayConfirmCheckIns: registerTakers,
	MayStartOnPhone:    withoutAccount, MayCheckInOnPhone: withoutAccount, MaySeeOwnRecord: withoutAccount,

	MaySeeDesk: frontOfHouse, MayMove: frontOfHouse, MayUndoMovement: frontOfHouse, MayAmendMovement: frontOfHouse, MayAddReason: frontOfHouse, MaySeeReasonKinds: frontOfHouse,
	MayMakePass: frontOfHouse, MayReturnPass: frontOfHouse, MayPrintPass: frontOfHouse,
	MaySeePass: everyone,

	MayNotify: frontOfHouse, MayWithdrawNotice: frontOfHouse, MayReadNotice: frontOfHouse, MayReadQuick: frontOfHouse, MayDoQuick: frontOfHouse,
	MaySeeNotices: allButTeachers, MaySeeContacts: allButTeachers, MaySetContacts: frontOfHouse, MayEndContact: office, MaySetWarning: office, MayEndWarning: office, MaySeeDocument: office,
	MayCall: frontOfHouse, MayReadAnswer: frontOfHouse, MayStartFetch: frontOfHouse, MayEndFetch: frontOfHouse,
	MayCallAnyone: office, MayHold: office, MayEndHold: office, MayTextHomes: office, MayReadTexts: office,
	MaySeeTasks: office, MayResolveNumber: office, MaySeeUnexplained: office,

	MayStartSearch: frontOfHouse, MayEndSearch: frontOfHouse,
	MayTakeBack: allButTeachers, MaySettleStudent: office, MaySettleRegister: office,
	MaySettle: office, MayClose: office, MayReopen: office,
	MaySeeProtocol: allButTeachers,
	MaySendMessage: office, MayResend: office,
	MayWriteToClass: registerTakers,
	MaySeeNotes:     everyone, MayMarkNotes: everyone,
	MaySeeOutbox: allButDesk, MaySeeAllMessages: reviewers,

	MaySeeAbsence: reviewers, MayKeepAbsence: reviewers, MayKeepDays: reviewers, MayKeepStatement: reviewers, MaySeeGrid: reviewers, MaySeeClasses: allButDesk, MayKeepClasses: allButDesk, MayKeepGrid: reviewers,
	MaySeeViews: allButTeachers, MaySaveView: allButTeachers, MayEndView: allButTeachers, MaySetGrading: administrators, MaySetTerms: administrators, MaySetBells: administrators, MaySetPattern: administrators, MayDraftCodes: administrators, MaySeeBeside: reviewers, MayKeepBeside: reviewers, MayMakeUp: office, MaySeeOwn: everyone, MaySeeOwnOf: everyone, MaySeeOwnGroups: allButTeachers, MaySetOwn: everyone, MayDefineOwn: administrators, MaySetOwnFields: administrators, MayKeepOwn: reviewers, MayImportOwn: administrators, MaySeeLists: allButTeachers, MaySeePartTime: allButDesk, MaySetPartTime: office, MayKeepList: allButTeachers, MayEndList: allButTeachers,
	MaySeeSteps: allButDesk, MayDoSteps: allButDesk, MayDoAnyStep: office, MaySeeAllSteps: reviewers, MayKeepSteps: reviewers,
	MayPrintLetter: office, MaySendStatement: office, MaySeeLetter: reviewers, MayLookAtMany: office, MayWriteToMany: office, MayTryLetter: office, MaySeePreview: office, MaySetSteps: administrators, MaySeeLetters: office, MaySetLetter: office,
	MaySeeCourses: allButDesk, MaySeeTables: allButDesk, MaySeeCell: allButDesk, MaySeeCredits: allButDesk, MaySeeResults: allButDesk, MayKeepCourses: allButDesk, MayAskWhatIf: allButDesk, MaySetGrade: office, MaySeeRules: reviewers, MaySeeRule: reviewers, MayLookAtRule: reviewers, MayTryRule: reviewers, MayKeepRules: reviewers, MaySetRules: {Pastoral, Administrator}, MayBringRules: {Pastoral, Administrator}, MaySeeResultRule: reviewers, MaySetResultRule: administrators,
	MaySeeConduct: allButDesk, MayKeepConduct: allButDesk, MaySeeIncident: allButDesk, MayNoteIncident: allButDesk, MayFindPeople: allButDesk, MaySeeConductLists: allButDesk,
	MayTakeIncidentBack: allButDesk, MayCorrectAnyIncident: reviewers, MaySetConductLists: reviewers, MayMarkChange: reviewers, MayUnmarkChange: reviewers,

	MaySeeWhy: allButDesk, MaySeeConcerns: allButDesk,
	MayFollowUp: reviewers, MayKeepConcerns: reviewers, MayDecide: office, MayBeginReview: office, MayReadReviewAgain: office, MayFinishReview: office, MaySetReviews: {Pastoral, Administrator},
	MaySeeReviews: reviewers, MaySeeReview: reviewers, MayKeepReview: reviewers, MayTellConcern: allButDesk, MaySeeCases: reviewers, MayKeepCases: reviewers, MayChangeCase: reviewers, MayOwnCase: reviewers,
	MaySeeNext: reviewers, MayKeepNext: reviewers, MaySeeCase: reviewers, MaySeeCasesOf: reviewers, MayReadNote: reviewers, MayReadSession: reviewers, MayPlanCase: reviewers, MayEndPlanned: reviewers, MayAddPaper: reviewers, MaySeePaper: reviewers, MayTakePaperOff: reviewers, MayMeet: reviewers, MayCallMeetingOff: reviewers, MayKeepMeeting: reviewers,
	MaySeeWeek: reviewers, MayKeepWeek: reviewers, MayAddSession: reviewers, MayChangeSession: reviewers, MayTakeSessionOff: reviewers, MayRepeatSession: reviewers, MaySayWhyNone: reviewers, MaySeeWhatCame: reviewers, MayKeepWhatCame: reviewers, MaySeeSupportWords: reviewers, MaySetSupport: {Pastoral, Leader, Administrator}, MayKeepSupport: reviewers,
	MaySeeOutlook: reviewers, MayFitOutlook: reviewers, MayKeepInputs: reviewers, MaySetOutlook: administrators, MaySeeProgress: everyone,

	MayAskHelp: everyone, MaySeePins: everyone, MayPin: everyone, MayUnpin: everyone, MaySeeMark: everyone, MayKeepCalendar: everyone, MaySeePapers: allButTeachers, MaySeePaperList: allButTeachers, MayLookAtPaper: allButTeachers, MayMakePaper: allButTeachers, MayRunPaper: allButTeachers, MaySavePaper: allButTeachers, MaySharePaper: allButTeachers, MayEndPaper: allButTeachers, MayPlanPaper: allButTeachers, MayEndPaperPlan: allButTeachers, MaySendToPrinter: allButTeachers, MaySeePrinted: allButTeachers,
	MaySeeLates: allButTeachers, MayKeepLates: frontOfHouse, MayPrintCards: office,
	MaySeePhoto: everyone, MaySetPhoto: office,

	MaySeeSchool: administrators, MayCloseDays: administrators, MayOpenDays: administrators, MaySeeCalendar: administrators, MaySeeTimetable: administrators, MayImport: administrators, MaySetRegisterRules: administrators, MayChooseCodes: administrators, MayTakePolicy: administrators, MayDraftPolicy: administrators, MaySeePolicy: allButDesk, MaySetReasons: administrators,
	MayAddAccount: administrators, MayImportAccounts: administrators, MayResetAccount: administrators, MayChangeAccount: administrators, MayEndAccount: administrators,
	MaySeeSessions: administrators, MayEndSession: administrators, MaySeeLooks: administrators, MayKeepLooks: administrators,
	MayLookAtFormer: office, MayBringFormer: office, MayEndFormer: office, MaySeeFormer: reviewers, MaySeeFormerOf: reviewers, MayKeepFormer: reviewers,
	MaySeeLeavers: administrators, MaySetLeaversRule: administrators, MayEraseLeavers: administrators, MayTakePersonalData: administrators,
	MaySetEmblem: administrators, MaySeeStations: administrators, MayAddStation: administrators, MayEndStation: administrators,
	MayBindStation: withoutAccount, MaySeeStation: withoutAccount, MayAskStation: withoutAccount, MayMoveAtStation: withoutAccount,

	MaySeeTrips: everyone, MaySeeTrip: everyone, MayMarkTrip: registerTakers, MayEndTrip: everyone, MayReopenTrip: office,
	MayPlanTrip: office, MayChangeTrip: office, MayCancelTrip: office,
	MaySeeTripGroup: office, MaySeeAnyTrip: allButTeachers,

	MaySeeRollCall: everyone, MaySeeRunning: everyone, MayTick: everyone, MaySeeTicks: everyone,
	MayStartRollCall: allButTeachers, MayEndRollCall: allButTeachers, MayPrintRollCall: allButTeachers, MaySeeRollAhead: allButTeachers,
	MaySeeRollCalls: allButTeachers, MaySeeRollRecord: allButTeachers, MayKeepRollRecord: allButTeachers,
	MaySeeVisits: allButTeachers, MaySignInVisitor: frontOfHouse, MaySignOutVisitor: frontOfHouse, MayBringBack: frontOfHouse, MayVisitAtStation: withoutAccount,
	MaySetMeetingPoint: administrators,
}

// May reports whether the role may do something.
func (r Role) May(what Permission) bool { return slices.Contains(permitted[what], r) }

// WithoutAccount reports whether something is open to those not signed in.
func WithoutAccount(what Permission) bool {
	roles, known := permitted[what]
	return known && len(roles) == 0
}

// May reports whether the person may do something at all; whom it concerns may still
// be none of theirs. The program itself may do everything.
func (p Person) May(what Permission) bool { return p.Role == "" || p.Role.May(what) }

// MaySee refuses a student to a teacher who does not teach them now, whatever day is looked
// at: a place in a class that is over, or has not begun, opens nothing.
func (v Snapshot) MaySee(p Person, student ids.Student) error {
	if p.Role != Teacher {
		return nil
	}
	present := v.School.Records().On(v.Now.Date())
	for _, e := range present.EnrollmentsOf(student) {
		if e.On(v.Now.Date()) && present.Teaches(p.Staff, e.ClassID) {
			return nil
		}
	}
	return Refusedf("that student is in none of your classes")
}

// OwnClass returns a class that the person teaches, or any to those who may take any register.
func (v Snapshot) OwnClass(p Person, class ids.Class) (store.Class, error) {
	c, err := v.Class(class)
	if err == nil && !p.May(MayTakeAnyRegister) && !v.School.Teaches(p.Staff, class) {
		err = Refusedf("%s is not your class: nothing was changed", c.Title)
	}
	return c, err
}

// MayTake refuses a register to those it is not for.
func (v Snapshot) MayTake(x *Day, p Person, class ids.Class, slot string) error {
	if p.May(MayTakeAnyRegister) || (p.Role == Teacher && (v.School.Teaches(p.Staff, class) || v.StandsIn(x, p.Staff, class, slot))) {
		return nil
	}
	return Refusedf("%s is not your class: nothing was changed", v.School.ClassOf(class).Title)
}
