import { Suspense } from 'react';
import { Route, Switch } from 'wouter';
import { KeyPage } from './account/KeyPage';
import { useAccess } from './core/client';
import { ProjectPage } from './frame/ProjectPage';
import { words } from './messages';
import { Lost, Waiting } from './parts/Message';
import { Projects } from './projects/Projects';
import { CheckView, FinishesView, HandOffView, SharedPage, Workbench } from './views';

export function App() {
  const keyNeeded = useAccess((access) => access.keyNeeded);
  if (keyNeeded) return <KeyPage />;
  return (
    <Switch>
      <Route path="/">
        <Projects />
      </Route>
      <Route path="/projects/:id">{({ id }) => <ProjectPage key={id} id={id} view={Workbench} />}</Route>
      <Route path="/projects/:id/finishes">
        {({ id }) => <ProjectPage key={id} id={id} view={FinishesView} />}
      </Route>
      <Route path="/projects/:id/check">
        {({ id }) => <ProjectPage key={id} id={id} view={CheckView} />}
      </Route>
      <Route path="/projects/:id/hand-off">
        {({ id }) => <ProjectPage key={id} id={id} view={HandOffView} />}
      </Route>
      <Route path="/s/:token">
        {({ token }) => (
          <Suspense fallback={<Waiting what={words.shared.openingTheScene} />}>
            <SharedPage token={token} />
          </Suspense>
        )}
      </Route>
      <Route>
        <Lost title={words.app.thereIsNothingHere}>{words.app.theAddressMayBeMistyped}</Lost>
      </Route>
    </Switch>
  );
}
