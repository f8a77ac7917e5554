import { App as AntApp, ConfigProvider } from 'antd';
import { lazy, Suspense } from 'react';
import { Navigate, Route, Routes, useLocation } from 'react-router';
import { ChoosePassword } from './account/ChoosePassword';
import { SecondFactor } from './account/SecondFactor';
import { readsEverything, useSession } from './api/queries';
import { Boundary } from './frame/Boundary';
import { Frame } from './frame/Frame';
import { Loading } from './frame/Loading';
import { firstPlaceOf } from './frame/placesOf';
import { themeOf, useLook } from './look/theme';
import { Docket } from './places/Docket';
import { SignIn } from './places/SignIn';

const Case = lazy(() => import('./places/Case'));
const Several = lazy(() => import('./places/Several'));
const ByOperator = lazy(() => import('./places/ByOperator'));
const Carriers = lazy(() => import('./places/Carriers'));
const CarriersOf = lazy(() => import('./places/CarriersOf'));
const Populations = lazy(() => import('./places/Populations'));
const Hosts = lazy(() => import('./places/Hosts'));
const Host = lazy(() => import('./places/Host'));
const Intake = lazy(() => import('./places/Intake'));
const InForce = lazy(() => import('./places/InForce'));
const Pilots = lazy(() => import('./places/Pilots'));
const Pilot = lazy(() => import('./places/Pilot'));
const Exceptions = lazy(() => import('./places/Exceptions'));
const Digest = lazy(() => import('./places/Digest'));
const Report = lazy(() => import('./places/Report'));
const Sheet = lazy(() => import('./places/Sheet'));
const Objection = lazy(() => import('./places/Objection'));
const Record = lazy(() => import('./places/Record'));
const Weights = lazy(() => import('./places/Weights'));
const Access = lazy(() => import('./places/Access'));
const Account = lazy(() => import('./places/Account'));
const Help = lazy(() => import('./places/Help'));

/** Styles that are written into the page bear the number that the server made for this answer. */
const STYLES = { nonce: document.querySelector<HTMLMetaElement>('meta[property=csp-nonce]')?.nonce };

export function App() {
  const { dark } = useLook();
  const session = useSession();
  const { pathname } = useLocation();
  return (
    <ConfigProvider theme={themeOf(dark)} csp={STYLES}>
      <AntApp>
        {session.isPending ? (
          <Loading what="Lucid Verdict" />
        ) : session.data?.login === undefined ? (
          <SignIn unreachable={session.isError} />
        ) : session.data.pending === 'CHOOSE_PASSWORD' ? (
          <main className="signin">
            <ChoosePassword oneTime done={() => undefined} />
          </main>
        ) : session.data.pending === 'SET_UP_SECOND_FACTOR' ? (
          <main className="signin">
            <SecondFactor has={false} asked />
          </main>
        ) : (
          <Frame session={session.data}>
            <Boundary key={pathname} what="This place">
              <Suspense fallback={<Loading what="this place" />}>
                <Routes>
                  {readsEverything(session.data.role) && (
                    <>
                      <Route path="/docket" element={<Docket />} />
                      <Route path="/decide" element={<Several />} />
                      <Route path="/cases/:id" element={<Case />} />
                      <Route path="/cases/:id/verdicts/:number" element={<Sheet />} />
                      <Route path="/report/:face" element={<Report />} />
                      <Route path="/intake" element={<Intake />} />
                      <Route path="/in-force" element={<InForce />} />
                      <Route path="/pilots" element={<Pilots />} />
                      <Route path="/pilots/:id" element={<Pilot />} />
                      <Route path="/exceptions" element={<Exceptions />} />
                      <Route path="/record" element={<Record />} />
                      <Route path="/weights" element={<Weights />} />
                    </>
                  )}
                  <Route path="/digest" element={<Digest />} />
                  <Route path="/objection" element={<Objection />} />
                  <Route path="/by-operator" element={<ByOperator />} />
                  <Route path="/carriers" element={<Carriers />} />
                  <Route path="/carriers/:id" element={<CarriersOf />} />
                  <Route path="/hosts" element={<Hosts />} />
                  <Route path="/hosts/:name" element={<Host />} />
                  <Route path="/populations" element={<Populations />} />
                  <Route path="/access" element={<Access />} />
                  <Route path="/account" element={<Account />} />
                  <Route path="/help" element={<Help />} />
                  <Route path="*" element={<Navigate to={firstPlaceOf(session.data.role)} replace />} />
                </Routes>
              </Suspense>
            </Boundary>
          </Frame>
        )}
      </AntApp>
    </ConfigProvider>
  );
}
