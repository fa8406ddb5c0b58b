import { useQuery } from "@tanstack/react-query";
import { Navigate, Route, Routes, useLocation } from "react-router";
import { meQuery } from "../api/queries/frame";
import { Begin, NotBegun } from "./Begin";
import { Frame } from "./Frame";
import { Join } from "./Join";
import { Message } from "./Message";
import { usePlace } from "./place";
import { SignIn } from "./SignIn";
import { Guard, screen } from "./screen";
import { ToastPlace } from "./toast";
import "./frame.css";
import "./print.css";

const MorningScreen = screen(() => import("../screens/morning/MorningScreen"));
const SessionScreen = screen(() => import("../screens/session/SessionScreen"));
const CalendarScreen = screen(() => import("../screens/session/CalendarScreen"));
const HeatScreen = screen(() => import("../screens/session/heat/HeatScreen"));
const WeekScreen = screen(() => import("../screens/week/WeekScreen"));
const SeasonScreen = screen(() => import("../screens/season/SeasonScreen"));
const PeopleScreen = screen(() => import("../screens/squad/PeopleScreen"));
const UnitsScreen = screen(() => import("../screens/squad/UnitsScreen"));
const FilesScreen = screen(() => import("../screens/files/FilesScreen"));
const ReportsScreen = screen(() => import("../screens/morning/ReportsScreen"));
const AthleteScreen = screen(() => import("../screens/athlete/AthleteScreen"));
const SheetScreen = screen(() => import("../screens/morning/SheetScreen"));
const ReviewScreen = screen(() => import("../screens/morning/ReviewScreen"));
const NoticesScreen = screen(() => import("../screens/squad/NoticesScreen"));
const FieldScreen = screen(() => import("../screens/field/FieldScreen"));
const LiveScreen = screen(() => import("../screens/live/LiveScreen"));
const ReturnScreen = screen(() => import("../screens/return/ReturnScreen"));
const TemplatesScreen = screen(() => import("../screens/week/TemplatesScreen"));
const BlockScreen = screen(() => import("../screens/week/BlockScreen"));
const MethodScreen = screen(() => import("../screens/method/MethodScreen"));
const AccountsScreen = screen(() => import("../screens/squad/AccountsScreen"));
const FormsScreen = screen(() => import("../screens/squad/FormsScreen"));
const TestsScreen = screen(() => import("../screens/squad/TestsScreen"));
const AuditScreen = screen(() => import("../screens/squad/AuditScreen"));
const PhoneScreen = screen(() => import("../screens/phone/PhoneScreen"));
const AccountScreen = screen(() => import("./AccountScreen"));
const NewSquadScreen = screen(() => import("../screens/squad/NewSquadScreen"));
const LimitsScreen = screen(() => import("../screens/squad/LimitsScreen"));

export function App() {
  const me = useQuery(meQuery);
  const { pathname } = useLocation();
  if (me.isPending) return null;
  if (me.isError)
    return (
      <Message title="Uvren does not answer" action="Try again" onAction={() => me.refetch()}>
        {me.error.message}
      </Message>
    );
  if (pathname === "/join") return <Join />;
  if (pathname === "/begin") return <Begin />;
  if (!me.data.begun) return <NotBegun />;
  if (!me.data.signed_in) return <SignIn demo={me.data.demo} />;
  return (
    <ToastPlace>
      <Inside me={me.data} />
    </ToastPlace>
  );
}

function Inside({ me }: { me: Parameters<typeof usePlace>[0] }) {
  const { place, wrong } = usePlace(me);
  const { search, pathname } = useLocation();
  if (pathname === "/account")
    return (
      <Guard keys={[]}>
        <AccountScreen />
      </Guard>
    );
  // Who is an athlete here, and nothing else, has a page of their own without the frame of the desk.
  if (place?.may("own_page") && !place.may("read_squad"))
    return (
      <Guard keys={[search]}>
        <PhoneScreen me={me} place={place} />
      </Guard>
    );
  const home = place?.may("read_squad") ? "/morning" : "/squad/accounts";
  if (pathname === "/squad/new" || (!place && me.club_admin))
    return (
      <Frame me={me} place={place}>
        <Guard keys={[]}>
          <NewSquadScreen me={me} />
        </Guard>
      </Frame>
    );
  if (!place)
    return (
      <Frame me={me} place={null}>
        <Message title="Nothing to show yet">
          You are signed in, but there is no screen for your role in any squad yet. Ask your administrator.
        </Message>
      </Frame>
    );
  return (
    <Frame me={me} place={place} wrong={wrong}>
      <Guard keys={[pathname, search]}>
        <Routes>
          <Route path="/morning" element={<MorningScreen place={place} />} />
          <Route path="/session" element={<SessionScreen place={place} />} />
          <Route path="/session/calendar" element={<CalendarScreen place={place} />} />
          <Route path="/session/everybody" element={<HeatScreen place={place} />} />
          <Route path="/week" element={<WeekScreen place={place} />} />
          <Route path="/week/templates" element={<TemplatesScreen place={place} />} />
          <Route path="/week/block" element={<BlockScreen place={place} />} />
          <Route path="/field" element={<FieldScreen place={place} />} />
          <Route path="/live" element={<LiveScreen place={place} />} />
          <Route path="/return" element={<ReturnScreen place={place} />} />
          <Route path="/season" element={<SeasonScreen place={place} />} />
          <Route path="/squad/people" element={<PeopleScreen place={place} />} />
          <Route path="/squad/units" element={<UnitsScreen place={place} />} />
          <Route path="/squad/files" element={<FilesScreen place={place} />} />
          <Route path="/squad/limits" element={<LimitsScreen place={place} />} />
          <Route path="/morning/sheet" element={<SheetScreen place={place} />} />
          <Route path="/morning/review" element={<ReviewScreen place={place} />} />
          <Route path="/squad/notices" element={<NoticesScreen place={place} />} />
          <Route path="/athlete" element={<AthleteScreen place={place} />} />
          <Route path="/method" element={<MethodScreen place={place} />} />
          <Route path="/morning/reports" element={<ReportsScreen place={place} />} />
          <Route path="/squad/accounts" element={<AccountsScreen place={place} />} />
          <Route path="/squad/forms" element={<FormsScreen place={place} />} />
          <Route path="/squad/tests" element={<TestsScreen place={place} />} />
          <Route path="/squad/audit" element={<AuditScreen place={place} />} />
          <Route path="/" element={<Navigate to={`${home}${search}`} replace />} />
          <Route
            path="/squad"
            element={<Navigate to={`${place.may("read_squad") ? "/squad/units" : home}${search}`} replace />}
          />
          <Route
            path="*"
            element={
              <Message
                title="There is no such screen"
                action="Go to Morning"
                onAction={() => place.go("/morning")}
              >
                The address may be mistyped.
              </Message>
            }
          />
        </Routes>
      </Guard>
    </Frame>
  );
}
