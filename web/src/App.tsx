import { App as AntApp, ConfigProvider } from 'antd';
import { lazy, Suspense } from 'react';
import { Navigate, Route, Routes } from 'react-router';
import { readsEverything, useSession } from './api/queries';
import { Frame } from './frame/Frame';
import { Loading } from './frame/Loading';
import { themeOf, useLook } from './look/theme';
import { ChoosePassword } from './places/ChoosePassword';
import { Docket } from './places/Docket';
import { SignIn } from './places/SignIn';

const Case = lazy(() => import('./places/Case'));
const Carriers = lazy(() => import('./places/Carriers'));
const CarriersOf = lazy(() => import('./places/CarriersOf'));
const Populations = lazy(() => import('./places/Populations'));
const Hosts = lazy(() => import('./places/Hosts'));
const Host = lazy(() => import('./places/Host'));
const Intake = lazy(() => import('./places/Intake'));
const Record = lazy(() => import('./places/Record'));
const Weights = lazy(() => import('./places/Weights'));
const Access = lazy(() => import('./places/Access'));

export function App() {
  const { dark } = useLook();
  const session = useSession();
  return (
    <ConfigProvider theme={themeOf(dark)}>
      <AntApp>
        {session.isPending ? (
          <Loading what="Lucid Verdict" />
        ) : session.data?.login === undefined ? (
          <SignIn unreachable={session.isError} />
        ) : session.data.oneTime ? (
          <ChoosePassword oneTime />
        ) : (
          <Frame session={session.data}>
            <Suspense fallback={<Loading what="this place" />}>
              <Routes>
                {readsEverything(session.data.role) && (
                  <>
                    <Route path="/docket" element={<Docket />} />
                    <Route path="/cases/:id" element={<Case />} />
                    <Route path="/intake" element={<Intake />} />
                    <Route path="/record" element={<Record />} />
                    <Route path="/weights" element={<Weights />} />
                  </>
                )}
                <Route path="/carriers" element={<Carriers />} />
                <Route path="/carriers/:id" element={<CarriersOf />} />
                <Route path="/hosts" element={<Hosts />} />
                <Route path="/hosts/:name" element={<Host />} />
                <Route path="/populations" element={<Populations />} />
                <Route path="/access" element={<Access />} />
                <Route path="/password" element={<ChoosePassword />} />
                <Route path="*" element={<Navigate to={readsEverything(session.data.role) ? '/docket' : '/carriers'} replace />} />
              </Routes>
            </Suspense>
          </Frame>
        )}
      </AntApp>
    </ConfigProvider>
  );
}
