import { useQuery } from '@tanstack/react-query';
import { Link } from 'react-router';
import { answer, api, type Schemas } from '../api/client';
import { Heading, Trouble } from '../ui/parts';
import { Standing } from '../ui/Standing';

type Step = Schemas['SetUpStep'];

/** Steps that belong together: those of a platform, then what the whole house has. */
function chapters(steps: Step[]): [string, Step[]][] {
  const out = new Map<string, Step[]>();
  for (const s of steps) {
    const [platform] = s.title.split(': ');
    const title = s.title.includes(': ') ? platform : 'The house';
    out.set(title, [...(out.get(title) ?? []), s]);
  }
  return [...out];
}

const plain = (title: string) => {
  const name = title.slice(title.indexOf(': ') + 1).trim();
  return name.charAt(0).toUpperCase() + name.slice(1);
};

function Row({ step, titles }: { step: Step; titles: Map<string, string> }) {
  return (
    <li className="border-line/60 grid grid-cols-[150px_1fr_1fr] items-start gap-4 border-b py-2">
      <Standing of={step.state} />
      <div>
        <Link to={step.link} className="font-semibold hover:underline">
          {plain(step.title)}
        </Link>
        <p className={step.state === 'attention' ? 'text-amber' : 'text-quiet'}>{step.detail}</p>
      </div>
      <div className="text-quiet">
        {step.state !== 'done' && <p>Without it: {step.blocks}.</p>}
        {step.blockedBy.length > 0 && (
          <p>First: {step.blockedBy.map((k) => plain(titles.get(k) ?? k).toLowerCase()).join(', ')}.</p>
        )}
      </div>
    </li>
  );
}

/** What of the outside connections is done, what is missing, and what that blocks. */
export function SetUpPage() {
  const steps = useQuery({ queryKey: ['set-up'], queryFn: () => answer(api.GET('/set-up')) });
  const all = steps.data ?? [];
  const left = all.filter((s) => s.state !== 'done').length;
  const titles = new Map(all.map((s) => [s.key, s.title]));
  return (
    <section className="flex min-w-0 flex-1 flex-col overflow-y-auto">
      <Heading
        title="Set-up"
        note={steps.data && (left === 0 ? 'all done' : `${left} of ${all.length} steps to look at`)}
      />
      <div className="space-y-7 px-5 pb-8">
        <Trouble error={steps.error} />
        {chapters(all).map(([title, its]) => (
          <section key={title} aria-label={title}>
            <h2 className="border-line border-b pb-1 font-semibold">{title}</h2>
            <ul className="text-sm">
              {its.map((s) => (
                <Row key={s.key} step={s} titles={titles} />
              ))}
            </ul>
          </section>
        ))}
      </div>
    </section>
  );
}
