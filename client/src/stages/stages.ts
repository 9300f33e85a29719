/**
 * Every screen behind the list of sites, in one piece of the program: it is fetched once, as soon as the list stands, and
 * holds what of the core the list does not need. One piece, not one a screen: the bundler puts whatever two pieces share
 * before the first screen.
 */
export { CheckScreen } from '../check/CheckScreen';
export { CurveScreen } from '../check/CurveScreen';
export { FirmScreen } from '../firm/FirmScreen';
export { FleetScreen } from '../firm/FleetScreen';
export { PeopleScreen } from '../firm/PeopleScreen';
export { YouScreen } from '../firm/YouScreen';
export { AddModulesScreen } from '../plan/AddModulesScreen';
export { AddDeviceScreen, AddInverterScreen, AddLoadScreen, AddSourceScreen } from '../plan/AddPartScreen';
export { CableScreen } from '../plan/CableScreen';
export { ChangeScreen } from '../plan/ChangeScreen';
export { CompareScreen } from '../plan/CompareScreen';
export { ConvertScreen } from '../plan/ConvertScreen';
export { CounterScreen } from '../plan/CounterScreen';
export { InterimScreen } from '../plan/InterimScreen';
export { MoneyScreen } from '../plan/MoneyScreen';
export { PaperScreen } from '../plan/PaperScreen';
export { PlanScreen } from '../plan/PlanScreen';
export { ProposalScreen } from '../plan/ProposalScreen';
export { ReplaceScreen } from '../plan/ReplaceScreen';
export { VoltageScreen } from '../plan/VoltageScreen';
export { ProveScreen } from '../prove/ProveScreen';
export { VisitPaper } from '../prove/VisitPaper';
export { FaultsScreen } from '../prove/FaultsScreen';
export { PracticeScreen } from '../prove/PracticeScreen';
export { AheadScreen } from '../service/AheadScreen';
export { DueScreen } from '../service/DueScreen';
export { LiveScreen } from '../service/LiveScreen';
export { RoofScreen } from '../roof/RoofScreen';
export { PlatePhotoScreen } from '../plate/PhotoScreen';
export { FirmDueScreen } from '../firm/FirmDueScreen';
export { GuidedScreen } from '../service/GuidedScreen';
export { HandOverScreen } from '../service/HandOverScreen';
export { LogScreen } from '../service/LogScreen';
export { TrendsScreen } from '../service/TrendsScreen';
export { VisitsScreen } from '../prove/VisitsScreen';
export { QuickScreen } from '../quick/QuickScreen';
export { ItemScreen } from '../shelf/ItemScreen';
export { ShelfScreen } from '../shelf/ShelfScreen';
export { SiteShell } from '../shell/SiteShell';
export { JoinScreen } from '../signin/JoinScreen';
export { RecordCheck } from '../signin/RecordCheck';
export { AddScreen } from '../survey/AddScreen';
export { DayScreen } from '../survey/DayScreen';
export { HistoryScreen } from '../survey/HistoryScreen';
export { MoreScreen } from '../survey/MoreScreen';
export { PartScreen } from '../survey/PartScreen';
export { SchoolsScreen } from '../survey/SchoolsScreen';
export { SurveyScreen } from '../survey/SurveyScreen';
export { WalkScreen } from '../survey/WalkScreen';
export { UnsentScreen } from '../unsent/UnsentScreen';
export { OrderScreen } from '../work/OrderScreen';
export { OrdersScreen } from '../work/OrdersScreen';
export { WorkPaper } from '../work/WorkPaper';
export { YearScreen } from '../year/YearScreen';
