import { X } from "lucide-react";
import type { Problem } from "../api/client";
import { parseDuration } from "../study/durations";
import { addLink, freshId, removeLink, round, setSharesByType } from "../study/edits";
import { colourOf, partsByShare, passing, shareOf, shareSum } from "../study/flow";
import { whenTaken } from "../study/rules";
import { edit } from "../study/store";
import type { Link, Step, StudyDocument } from "../study/types";
import { linksOf } from "../study/types";
import { Choice } from "../ui/Choice";
import { IconButton } from "../ui/IconButton";
import { LINK_BUTTON } from "../ui/Menu";
import { ProblemNotes } from "../ui/ProblemNotes";
import { Section } from "../ui/Section";
import { TypeMark } from "../ui/TypeMark";
import { numberBetween, ValueField } from "../ui/ValueField";

interface WaysSectionProps {
  study: StudyDocument;
  step: Step;
  problems: Problem[];
}

const NEW_EXIT = "+exit";
const percent = (share: number) => String(round(share * 100));

function change(stepId: string, what: string, act: (step: Step, study: StudyDocument) => void): void {
  edit(what, (study) => {
    const step = study.steps.find((each) => each.id === stepId);
    if (step) act(step, study);
  });
}

/** Where cases go after a step: ways named by where they lead, with shares and their sum. */
export function WaysSection({ study, step, problems }: WaysSectionProps) {
  const links = linksOf(step);
  const types = passing(study).steps.get(step.id) ?? [];
  const byShare = links.length < 2 || partsByShare(step);
  const byType = byShare && links.some((link) => link.share_by_type);
  const sums = !byShare ? [] : (byType ? types : types.slice(0, 1)).map((type) => shareSum(step, type));
  const targets = [
    ...study.steps.filter((each) => each.id !== step.id).map((each) => ({ value: each.id, label: each.name })),
    { value: NEW_EXIT, label: "A new exit", separated: true },
  ];
  const lead = (place: number, to: string) =>
    change(step.id, `${step.name}: lead elsewhere`, (draft, document) => {
      const link = linksOf(draft)[place];
      if (!link) return;
      if (to !== NEW_EXIT) link.to = to;
      else {
        const exit = { id: freshId("Leaves", document.steps), name: "Leaves", kind: "exit" } as const;
        document.steps.push(exit);
        link.to = exit.id;
      }
    });
  const addWay = () =>
    change(step.id, `${step.name}: one more way`, (draft, document) => {
      const taken = new Set(linksOf(draft).map((link) => link.to));
      const target = document.steps.find((each) => each.id !== step.id && !taken.has(each.id));
      if (target) addLink(document, draft, target.id);
    });
  return (
    <Section
      title="Where they go then"
      aside={
        <span className="flex items-baseline gap-3 text-sm">
          {byShare && types.length > 1 && links.length > 1 && (
            <Choice
              quiet
              label="Shares by case type"
              value={byType ? "by_type" : "same"}
              options={[
                { value: "same", label: "the same for all" },
                { value: "by_type", label: "by case type" },
              ]}
              onChoose={(form) => change(step.id, `${step.name}: shares`, (draft, document) => setSharesByType(document, draft, form === "by_type"))}
            />
          )}
          <SharesSum sums={sums} />
        </span>
      }
    >
      <ul className="space-y-2">
        {links.map((link, place) => (
          <li key={`${link.to} ${place}`}>
            <div className="flex flex-wrap items-baseline gap-x-1.5 gap-y-1">
              {links.length > 1 && byShare && !byType && <ShareField step={step} link={link} place={place} />}
              <span>{links.length === 1 ? "all to" : byShare ? "to" : `${whenTaken(step, link, study)} to`}</span>
              <Choice label={`Way ${place + 1} leads to`} value={link.to} options={targets} onChoose={(to) => lead(place, to)} />
              <TravelField step={step} link={link} place={place} />
              {links.length > 1 && byShare && (
                <span className="ml-auto self-center">
                  <IconButton label={`Take away way ${place + 1}`} icon={X} onClick={() => change(step.id, `${step.name}: one way less`, (draft) => removeLink(draft, place))} />
                </span>
              )}
            </div>
            {byType && links.length > 1 && (
              <div className="mt-1 flex flex-wrap gap-x-3 gap-y-1 pl-3">
                {types.map((type) => (
                  <span key={type} className="inline-flex items-baseline">
                    <TypeMark colour={colourOf(study, type)} />
                    <ShareField step={step} link={link} place={place} type={type} />
                  </span>
                ))}
              </div>
            )}
          </li>
        ))}
      </ul>
      <ProblemNotes problems={problems} />
      {byShare ? (
        <button type="button" className={`${LINK_BUTTON} mt-2`} onClick={addWay}>
          One more way
        </button>
      ) : (
        <p className="mt-2 text-sm text-ink-2">When each way is taken stands in the study file; where it leads can be changed here.</p>
      )}
    </Section>
  );
}

function SharesSum({ sums }: { sums: number[] }) {
  const off = sums.find((sum) => Math.abs(sum - 1) > 1e-9);
  if (sums.length === 0) return null;
  return <span className={off === undefined ? "text-ink-2" : "font-semibold text-wrong"}>{percent(off ?? 1)} %</span>;
}

function ShareField({ step, link, place, type }: { step: Step; link: Link; place: number; type?: string }) {
  const share = type ? shareOf(step, link, type) : (link.share ?? 0);
  return (
    <ValueField
      label={`Share of way ${place + 1}${type ? ` for ${type}` : ""}`}
      value={percent(share)}
      suffix="%"
      parse={numberBetween(0, 100)}
      onCommit={(value) =>
        change(step.id, `${step.name}: ${value} %`, (draft) => {
          const changed = linksOf(draft)[place];
          if (!changed) return;
          if (type) (changed.share_by_type ??= {})[type] = round(Number(value) / 100);
          else changed.share = round(Number(value) / 100);
        })
      }
    />
  );
}

function TravelField({ step, link, place }: { step: Step; link: Link; place: number }) {
  if (link.travel != null && typeof link.travel !== "string") return <span className="text-ink-2">in a varying time</span>;
  const set = (travel: string) =>
    change(step.id, `${step.name}: travel ${travel}`, (draft) => {
      const changed = linksOf(draft)[place];
      if (!changed) return;
      if (travel.startsWith("0 ")) delete changed.travel;
      else changed.travel = travel;
    });
  if (!link.travel) {
    return (
      <button type="button" className="text-sm text-ink-2 underline decoration-dotted underline-offset-4 hover:text-ink" aria-label={`at once: give way ${place + 1} a travel time`} onClick={() => set("1 min")}>
        at once
      </button>
    );
  }
  return (
    <>
      in <ValueField label={`Travel time of way ${place + 1}`} value={link.travel} parse={parseDuration} onCommit={set} />
    </>
  );
}
