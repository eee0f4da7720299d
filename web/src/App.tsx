import { Route, Switch } from 'wouter';
import { Lost } from './parts/Message';
import { Projects } from './projects/Projects';
import { SharedPage } from './shared/SharedPage';
import { WorkbenchPage } from './workbench/WorkbenchPage';

export function App() {
  return (
    <Switch>
      <Route path="/">
        <Projects />
      </Route>
      <Route path="/projects/:id">{({ id }) => <WorkbenchPage key={id} id={id} />}</Route>
      <Route path="/s/:token">{({ token }) => <SharedPage token={token} />}</Route>
      <Route>
        <Lost title="There is nothing here">The address may be mistyped.</Lost>
      </Route>
    </Switch>
  );
}
