package work

import (
	"slices"

	"meldung/core/ids"
	"meldung/store"
)

// Permission is something that a person may do or not, by role. A route of the API has
// the name of the permission that it needs.
type Permission string

// The permissions.
const (
	MaySignIn      Permission = "sign-in"
	MaySeeSignIn   Permission = "sign-in-page"
	MaySeeSelf     Permission = "who"
	MaySeeLeft     Permission = "session-left"
	MaySignOut     Permission = "sign-out"
	MaySetPassword Permission = "set-password"
	MayJump        Permission = "jump"

	MaySeeRail     Permission = "rail"
	MaySeeToday    Permission = "today"
	MaySeePart     Permission = "part-of-count"
	MaySeeCalls    Permission = "call-sheet"
	MayKeepCalls   Permission = "call-sheet-file"
	MayFind        Permission = "find"
	MaySeeStudent  Permission = "student"
	MaySeeSettings Permission = "settings"

	MaySeeRegisters    Permission = "registers"
	MaySeeAllRegisters Permission = "see all registers" // not only one's own on the list
	MaySeeRegister     Permission = "register"
	MaySendRegister    Permission = "send-register"
	MayDraftRegister   Permission = "draft-register"
	MayCorrect         Permission = "correct"
	MaySeat            Permission = "seat"
	MaySeeCard         Permission = "card"
	MayTakeAnyRegister Permission = "take any register" // not only those of their own classes
	MaySeeStandIns     Permission = "stand-ins"
	MayNameStandIn     Permission = "name-stand-in"
	MayEndStandIn      Permission = "end-stand-in"

	MayOpenCheckIn     Permission = "open-check-in"
	MaySeeCheckInCode  Permission = "check-in-code"
	MayEndCheckIn      Permission = "end-check-in"
	MayRepeatCheckIn   Permission = "repeat-check-in"
	MayConfirmCheckIns Permission = "confirm-check-ins"
	MaySeeCheckIns     Permission = "check-ins"
	MayKeepCheckIns    Permission = "check-ins-file"
	MaySeeHandOut      Permission = "hand-out"
	MaySetHandOut      Permission = "set-hand-out"
	MayStartOnPhone    Permission = "start-on-phone"
	MayCheckInOnPhone  Permission = "check-in-on-phone"
	MaySeeOwnRecord    Permission = "own-record"

	MaySeeDesk        Permission = "desk"
	MayMove           Permission = "move"
	MayUndoMovement   Permission = "undo-movement"
	MayAmendMovement  Permission = "amend-movement"
	MayAddReason      Permission = "add-reason"
	MaySeeReasonKinds Permission = "reason-kinds"
	MayMakePass       Permission = "make-pass"
	MaySeePass        Permission = "pass"
	MayReturnPass     Permission = "return-pass"
	MayPrintPass      Permission = "pass-sheet"

	MayNotify         Permission = "notify"
	MayWithdrawNotice Permission = "withdraw-notice"
	MayReadNotice     Permission = "read-notice"
	MaySeeNotices     Permission = "notices"
	MayReadQuick      Permission = "read-quick"
	MayDoQuick        Permission = "do-quick"
	MayCall           Permission = "call"
	MayCallAnyone     Permission = "call about anyone" // not only about a student to be collected
	MaySeeContacts    Permission = "see contacts"
	MaySetContacts    Permission = "set-contact"
	MayEndContact     Permission = "end-contact"
	MaySetWarning     Permission = "set-warning"
	MayEndWarning     Permission = "end-warning"
	MaySeeDocument    Permission = "see-document"
	MayReadAnswer     Permission = "read-answer"
	MayHold           Permission = "hold"
	MayEndHold        Permission = "end-hold"
	MayTextHomes      Permission = "text-homes"
	MayReadTexts      Permission = "read-texts"
	MayStartFetch     Permission = "start-fetch"
	MayEndFetch       Permission = "end-fetch"
	MaySeeTasks       Permission = "tasks"
	MayResolveNumber  Permission = "resolve-number"
	MaySeeUnexplained Permission = "unexplained"

	MayTakeBack       Permission = "take-back"
	MaySettleStudent  Permission = "settle-student"
	MaySettleRegister Permission = "settle-register"
	MayStartSearch    Permission = "start-search"
	MayEndSearch      Permission = "find-search"
	MaySettle         Permission = "settle"
	MayClose          Permission = "close-safe-arrival"
	MayReopen         Permission = "reopen-safe-arrival"
	MaySeeProtocol    Permission = "protocol"
	MaySendMessage    Permission = "send-message"
	MayResend         Permission = "resend-message"
	MayWriteToClass   Permission = "write-to-students"
	MaySeeNotes       Permission = "notes"
	MayMarkNotes      Permission = "see-notes"
	MaySeeAllMessages Permission = "see all messages" // not only those to oneself
	MaySeeOutbox      Permission = "outbox"

	MaySeeAbsence    Permission = "absence"
	MayKeepAbsence   Permission = "absence-file"
	MayKeepDays      Permission = "days-file"
	MaySeeGrid       Permission = "grid"
	MayKeepStatement Permission = "statement"
	MaySendStatement Permission = "send-statement"

	MaySeeCourses    Permission = "courses"
	MaySeeTables     Permission = "courses-tables"
	MaySeeCell       Permission = "courses-cell"
	MaySeeCredits    Permission = "courses-credits"
	MaySeeResults    Permission = "courses-of"
	MayKeepCourses   Permission = "courses-file"
	MayAskWhatIf     Permission = "what-if"
	MaySetGrade      Permission = "set-grade"
	MaySeeRules      Permission = "rules"
	MaySeeRule       Permission = "rule"
	MayLookAtRule    Permission = "look-at-rule"
	MayTryRule       Permission = "try-rule"
	MayKeepRules     Permission = "rules-file"
	MaySetRules      Permission = "set-rules"
	MayBringRules    Permission = "bring-rules"
	MaySeeResultRule Permission = "result-rule"
	MaySetResultRule Permission = "set-result-rule"

	MaySeeConduct         Permission = "conduct"
	MayKeepConduct        Permission = "conduct-file"
	MaySeeIncident        Permission = "incident"
	MayNoteIncident       Permission = "note-incident"
	MayFindPeople         Permission = "conduct-people" // any student, by name and form only
	MaySeeConductLists    Permission = "conduct-lists"
	MayTakeIncidentBack   Permission = "take-incident-back"
	MayCorrectAnyIncident Permission = "correct-any-incident"
	MaySetConductLists    Permission = "set-conduct-lists"
	MayMarkChange         Permission = "mark-change"
	MayUnmarkChange       Permission = "unmark-change"
	MaySeeClasses         Permission = "class-report"
	MayKeepClasses        Permission = "class-report-file"
	MayKeepGrid           Permission = "grid-file"
	MaySeeWhy             Permission = "why"
	MaySeeViews           Permission = "views"
	MaySaveView           Permission = "save-view"
	MayEndView            Permission = "end-view"
	MaySeeSteps           Permission = "steps"
	MayDoSteps            Permission = "do-steps"
	MayDoAnyStep          Permission = "do any step" // not only those handed to oneself
	MaySeeAllSteps        Permission = "all steps"
	MayKeepSteps          Permission = "steps-file"
	MaySetSteps           Permission = "set-step-rules"
	MaySeeLetters         Permission = "letters"
	MaySetLetter          Permission = "set-letter"
	MayTryLetter          Permission = "try-letter"
	MaySeePreview         Permission = "letter-preview"
	MayPrintLetter        Permission = "print-letters"
	MaySeeLetter          Permission = "letters-sheet"
	MayLookAtMany         Permission = "look-at-letters-to-many"
	MayWriteToMany        Permission = "write-to-many"
	MaySeeConcerns        Permission = "concerns"
	MayFollowUp           Permission = "followup"
	MayKeepConcerns       Permission = "concerns-file"
	MayDecide             Permission = "decide"
	MayBeginReview        Permission = "begin-review"
	MayReadReviewAgain    Permission = "read-review-again"
	MayFinishReview       Permission = "finish-review"
	MaySeeReviews         Permission = "reviews"
	MaySeeReview          Permission = "review"
	MayKeepReview         Permission = "review-file"
	MaySetReviews         Permission = "set-reviews"
	MayTellConcern        Permission = "tell-concern"
	MaySeeCases           Permission = "cases"
	MayKeepCases          Permission = "cases-file"
	MayChangeCase         Permission = "change-case"
	MayOwnCase            Permission = "have a case" // in one's hands
	MaySeeNext            Permission = "next"
	MayKeepNext           Permission = "next-file"
	MaySeeCase            Permission = "case"
	MaySeeCasesOf         Permission = "cases-of"
	MayAskHelp            Permission = "help"
	MaySeeMark            Permission = "mark"
	MayKeepCalendar       Permission = "calendar-file"
	MaySeePapers          Permission = "papers"
	MaySeePaperList       Permission = "paper-list"
	MayLookAtPaper        Permission = "look-at-paper"
	MayMakePaper          Permission = "make-paper"
	MayRunPaper           Permission = "run-paper"
	MaySavePaper          Permission = "save-paper"
	MaySharePaper         Permission = "share-paper"
	MayEndPaper           Permission = "end-paper"
	MayPlanPaper          Permission = "plan-paper"
	MayEndPaperPlan       Permission = "end-paper-plan"
	MaySendToPrinter      Permission = "paper-to-printer"
	MaySeePrinted         Permission = "printed-paper"
	MayReadNote           Permission = "confidential-note"
	MayReadSession        Permission = "confidential-session"
	MayPlanCase           Permission = "plan-case"
	MayEndPlanned         Permission = "end-planned"
	MayAddPaper           Permission = "add-paper"
	MaySeePaper           Permission = "case-paper"
	MayTakePaperOff       Permission = "take-paper-off"
	MayMeet               Permission = "meet"
	MayCallMeetingOff     Permission = "call-meeting-off"
	MayKeepMeeting        Permission = "meeting-file"
	MaySeeWeek            Permission = "support-week"
	MayKeepWeek           Permission = "support-week-file"
	MayAddSession         Permission = "add-session"
	MayChangeSession      Permission = "change-session"
	MayTakeSessionOff     Permission = "take-session-off"
	MayRepeatSession      Permission = "repeat-session"
	MaySayWhyNone         Permission = "why-no-session"
	MaySeeWhatCame        Permission = "what-came-of-it"
	MayKeepWhatCame       Permission = "what-came-of-it-file"
	MaySeeSupportWords    Permission = "support-words"
	MaySetSupport         Permission = "set-support-words"
	MayKeepSupport        Permission = "support-files"
	MaySeeOutlook         Permission = "outlook"
	MayFitOutlook         Permission = "fit-outlook"
	MayKeepInputs         Permission = "outlook-inputs"
	MaySetOutlook         Permission = "set-outlook"
	MaySeeProgress        Permission = "progress"

	MaySeeLates   Permission = "lates"
	MayKeepLates  Permission = "lates-file"
	MayPrintCards Permission = "card-sheets"
	MaySeePhoto   Permission = "photo"
	MaySetPhoto   Permission = "set-photo"

	MaySeeSchool        Permission = "school"
	MaySeeCalendar      Permission = "calendar"
	MaySeeTimetable     Permission = "timetable"
	MayImport           Permission = "import-school"
	MaySetRegisterRules Permission = "set-register-rules"
	MaySeeDayTimes      Permission = "day-times"
	MaySetDayTimes      Permission = "set-day-times"
	MayCloseDays        Permission = "close-days"
	MayOpenDays         Permission = "open-days"
	MayChooseCodes      Permission = "choose-codes"
	MayTakePolicy       Permission = "take-policy"
	MayDraftPolicy      Permission = "draft-policy"
	MaySeePolicy        Permission = "policy"
	MaySetGrading       Permission = "set-grading"
	MaySetTerms         Permission = "set-terms"
	MaySetBells         Permission = "set-bells"
	MaySetPattern       Permission = "set-day-pattern"
	MayDraftCodes       Permission = "draft-codes"
	MaySeeBeside        Permission = "beside"
	MayKeepBeside       Permission = "beside-file"
	MayMakeUp           Permission = "make-up"
	MaySeeOwn           Permission = "own-fields"
	MaySeeOwnOf         Permission = "own-fields-of"
	MaySeeOwnGroups     Permission = "own-field-groups"
	MaySetOwn           Permission = "set-own-field"
	MayDefineOwn        Permission = "own-fields-set"
	MaySetOwnFields     Permission = "set-own-fields"
	MayKeepOwn          Permission = "own-fields-file"
	MayImportOwn        Permission = "import-own-fields"
	MaySeeLists         Permission = "lists"
	MaySeePartTime      Permission = "part-time"
	MaySetPartTime      Permission = "set-part-time"
	MayKeepList         Permission = "keep-list"
	MayEndList          Permission = "end-list"
	MaySetReasons       Permission = "set-reasons"
	MayAddAccount       Permission = "add-account"
	MayImportAccounts   Permission = "import-accounts"
	MayResetAccount     Permission = "reset-account"
	MayChangeAccount    Permission = "change-account"
	MayEndAccount       Permission = "end-account"
	MaySeeSessions      Permission = "sessions"
	MayEndSession       Permission = "end-session"
	MaySeeLooks         Permission = "looks"
	MayKeepLooks        Permission = "looks-file"
	MaySeeLeavers       Permission = "leavers"
	MaySetLeaversRule   Permission = "set-leavers-rule"
	MayEraseLeavers     Permission = "erase-leavers"
	MayTakePersonalData Permission = "personal-data"
	MaySeePins          Permission = "pins"
	MayPin              Permission = "pin"
	MayUnpin            Permission = "unpin"
	MayLookAtFormer     Permission = "look-at-former"
	MayBringFormer      Permission = "bring-former"
	MaySeeFormer        Permission = "former-records"
	MaySeeFormerOf      Permission = "former-record"
	MayKeepFormer       Permission = "former-record-file"
	MayEndFormer        Permission = "end-former"
	MaySetEmblem        Permission = "set-mark"
	MaySeeStations      Permission = "stations"
	MayAddStation       Permission = "add-station"
	MayEndStation       Permission = "end-station"
	MayBindStation      Permission = "bind-station"
	MaySeeStation       Permission = "station"
	MayAskStation       Permission = "at-station"
	MayMoveAtStation    Permission = "move-at-station"

	MaySeeTrips     Permission = "trips"
	MaySeeTrip      Permission = "trip"
	MayPlanTrip     Permission = "plan-trip"
	MayChangeTrip   Permission = "change-trip"
	MayCancelTrip   Permission = "cancel-trip"
	MayMarkTrip     Permission = "mark-trip"
	MayEndTrip      Permission = "trip-is-back"
	MayReopenTrip   Permission = "trip-goes-on"
	MaySeeTripGroup Permission = "trip-group"
	MaySeeAnyTrip   Permission = "see any trip" // not only those one leads

	MaySeeRollCall     Permission = "roll-call"
	MaySeeRunning      Permission = "roll-call-running"
	MayStartRollCall   Permission = "start-roll-call"
	MayTick            Permission = "tick"
	MaySeeTicks        Permission = "ticks"
	MayEndRollCall     Permission = "end-roll-call"
	MayPrintRollCall   Permission = "roll-call-paper"
	MaySeeRollCalls    Permission = "roll-calls"
	MaySeeRollRecord   Permission = "roll-call-record"
	MayKeepRollRecord  Permission = "roll-call-file"
	MaySeeRollAhead    Permission = "see a roll call ahead" // the list while none runs
	MaySeeVisits       Permission = "visits"
	MaySignInVisitor   Permission = "sign-in-visitor"
	MaySignOutVisitor  Permission = "sign-out-visitor"
	MayBringBack       Permission = "visitor-stays"
	MayVisitAtStation  Permission = "visitor-at-station"
	MaySetMeetingPoint Permission = "set-meeting-points"
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
