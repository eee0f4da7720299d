import { Route, Switch } from 'wouter';
import { KeyPage } from './account/KeyPage';
import { Workbench } from './bench/Workbench';
import { useAccess } from './core/client';
import { words } from './messages';
import { ProjectPage } from './ProjectPage';
import { Lost } from './parts/Message';
import { Projects } from './projects/Projects';
import { SharedPage } from './shared/SharedPage';
import { CheckView, FinishesView, HandOffView, IconsView, PageView } from './views';

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
      <Route path="/projects/:id/icons">
        {({ id }) => <ProjectPage key={id} id={id} view={IconsView} />}
      </Route>
      <Route path="/projects/:id/page">{({ id }) => <ProjectPage key={id} id={id} view={PageView} />}</Route>
      <Route path="/projects/:id/check">
        {({ id }) => <ProjectPage key={id} id={id} view={CheckView} />}
      </Route>
      <Route path="/projects/:id/hand-off">
        {({ id }) => <ProjectPage key={id} id={id} view={HandOffView} />}
      </Route>
      <Route path="/s/:token">{({ token }) => <SharedPage token={token} />}</Route>
      <Route>
        <Lost title={words.app.thereIsNothingHere}>{words.app.theAddressMayBeMistyped}</Lost>
      </Route>
    </Switch>
  );
}
