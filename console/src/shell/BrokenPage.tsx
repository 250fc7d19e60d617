import { useRouteError } from 'react-router';
import { Button, Empty } from '../ui/parts';

/** Stands in for a page that failed; the bar at the top still leads elsewhere. */
export function BrokenPage() {
  const error = useRouteError();
  return (
    <div role="alert" className="flex-1">
      <Empty title="This page stopped working.">
        Nothing that was saved is lost. It said: {error instanceof Error ? error.message : String(error)}
        <span className="mt-4 flex justify-center">
          <Button weight="main" onClick={() => location.reload()}>
            Open it again
          </Button>
        </span>
      </Empty>
    </div>
  );
}
