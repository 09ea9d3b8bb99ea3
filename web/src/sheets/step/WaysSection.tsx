import { ArrowUp } from "lucide-react";
import { RefAt } from "../../fields/ChoiceAt";
import { DistributionAt } from "../../fields/DistributionAt";
import { Optional, TakeAway } from "../../fields/Optional";
import { NotesAt } from "../../fields/PartTitle";
import { RuleAt } from "../../fields/RuleAt";
import { SourceMark } from "../../fields/SourceMark";
import { useField } from "../../fields/useField";
import { NumberAt } from "../../fields/ValueAt";
import { type At, setAt, within } from "../../study/document/addresses";
import { colourOf, passing, shareSum, showsShares } from "../../study/document/flow";
import { nameOf } from "../../study/document/parts";
import type { Link, Need, Step, StudyDocument } from "../../study/document/types";
import { linksOf } from "../../study/document/types";
import { addLink, furtherOn, type Parting, partBy, partingOf, removeLink, round } from "../../study/edits/links";
import { makeExit } from "../../study/edits/making";
import { edit } from "../../study/session/store";
import { freshCondition } from "../../study/values/rules";
import { Choice } from "../../ui/Choice";
import { IconButton } from "../../ui/IconButton";
import { LINK_BUTTON } from "../../ui/Menu";
import { Section } from "../../ui/Section";
import { TypeMark } from "../../ui/TypeMark";
import { NeedAt } from "./NeedsSection";

function change(stepId: string, what: string, act: (step: Step, study: StudyDocument) => void): void {
  edit(what, (study) => {
    const step = study.steps.find((each) => each.id === stepId);
    if (step) act(step, study);
  });
}

const PICKS = [
  { value: "share", label: "by shares" },
  { value: "rule", label: "by rules" },
  { value: "shortest-line", label: "where fewest wait" },
  { value: "in-turn", label: "in turn" },
];

/** Where cases go after a step: ways named by where they lead, with shares and their sum, or with rules. */
export function WaysSection({ study, step, at }: { study: StudyDocument; step: Step; at: At }) {
  const links = linksOf(step);
  const types = passing(study).steps.get(step.id) ?? [];
  const parting = partingOf(step);
  const sums = showsShares(step) ? (parting === "by_type" ? types : types.slice(0, 1)).map((type) => shareSum(step, type)) : [];
  const addWay = () =>
    change(step.id, `${step.name}: one more way`, (draft, document) => {
      const target = furtherOn(document, draft);
      if (target) addLink(document, draft, target);
    });
  const forms = [
    { value: "same", label: "shares for all" },
    ...(study.case_types.length > 1 ? [{ value: "by_type", label: "shares by case type" }] : []),
    { value: "rule", label: "by rules" },
  ];
  const mayPart = links.length > 1 && step.kind !== "fork" && (step.kind !== "choose" || ["share", "rule"].includes(step.pick ?? "share"));
  return (
    <Section
      title="Where they go"
      aside={
        <span className="flex items-baseline gap-3 whitespace-nowrap text-sm">
          <SourceMark at={within(at, "next")} />
          {mayPart && (
            <Choice
              quiet
              at={within(at, "next")}
              label="How ways part"
              value={parting}
              options={forms}
              onChoose={(form) => change(step.id, `${step.name}: ways part`, (draft, document) => partBy(document, draft, form as Parting))}
            />
          )}
          <SharesSum sums={sums} />
        </span>
      }
    >
      {step.kind === "choose" && (
        <p className="mb-1.5">
          They part <PickAt step={step} at={within(at, "pick")} />
        </p>
      )}
      <ul className="space-y-2">
        {links.map((link, place) => (
          <WayAt
            key={`${link.to} ${place}`}
            study={study}
            step={step}
            link={link}
            place={place}
            at={within(at, "next", place)}
            types={types}
            parting={parting}
          />
        ))}
      </ul>
      <NotesAt at={at} keys={["next"]} />
      <button type="button" className={`${LINK_BUTTON} mt-2`} data-sets={within(at, "next")} onClick={addWay}>
        One more way
      </button>
    </Section>
  );
}

function PickAt({ step, at }: { step: Step; at: At }) {
  const pick = (step.kind === "choose" && step.pick) || "share";
  const choose = (value: string) =>
    change(step.id, `${step.name}: ways part`, (draft, study) => {
      setAt(study, at, value === "share" ? undefined : value);
      partBy(study, draft, value === "rule" ? "rule" : value === "share" ? "same" : "none");
    });
  return <Choice at={at} label="How one way is picked" value={pick} options={PICKS} onChoose={choose} />;
}

interface WayAtProps {
  study: StudyDocument;
  step: Step;
  link: Link;
  place: number;
  at: At;
  types: string[];
  parting: Parting;
}

function WayAt({ study, step, link, place, at, types, parting }: WayAtProps) {
  const several = linksOf(step).length > 1;
  return (
    <li className={several ? "border-t border-dotted border-rule pt-1 first:border-0 first:pt-0" : ""}>
      <div className="flex items-start gap-1">
        <div className="min-w-0 flex-1 leading-[1.9rem]">
          {several && parting === "same" && (
            <>
              <NumberAt at={within(at, "share")} label={`Share of way ${place + 1}`} low={0} high={1} percent />{" "}
            </>
          )}
          {step.kind === "fork" && <ChanceAt at={within(at, "chance")} />}
          {several && parting === "rule" && <WhenAt study={study} at={at} link={link} />}
          {!several && step.kind !== "fork" ? "all " : ""}to{" "}
          <RefAt at={within(at, "to")} label={`Way ${place + 1} leads to`} kind="step" make={makeExit} only={(id) => id !== step.id} />{" "}
          {several && parting === "by_type" && (
            <div className="flex flex-wrap gap-x-3">
              {types.map((type) => (
                <span key={type} className="inline-flex items-baseline">
                  <TypeMark colour={colourOf(study, type)} />
                  <NumberAt
                    at={within(at, "share_by_type", type)}
                    label={`Share of way ${place + 1} for ${nameOf(study, "type", type)}`}
                    low={0}
                    high={1}
                    percent
                  />
                </span>
              ))}
            </div>
          )}
          <TravelAt study={study} at={at} place={place} />
        </div>
        {several && parting === "rule" && place > 0 && (
          <IconButton
            label={`Try way ${place + 1} before the one above`}
            icon={ArrowUp}
            onClick={() =>
              change(
                step.id,
                `${step.name}: order of ways`,
                (draft) => draft.kind !== "exit" && draft.next?.splice(place - 1, 2, ...draft.next.slice(place - 1, place + 1).reverse()),
              )
            }
          />
        )}
        {several && (
          <TakeAway
            at={at}
            label={`Take away way ${place + 1}`}
            onClick={() => change(step.id, `${step.name}: one way less`, (draft) => removeLink(draft, place))}
          />
        )}
      </div>
    </li>
  );
}

/** How likely a branch of a fork is taken; always, where nothing is said. */
function ChanceAt({ at }: { at: At }) {
  return (
    <Optional at={at} offer="always" fresh={0.5}>
      in <NumberAt at={at} label="Chance of the branch" low={0} high={1} percent /> of the cases
    </Optional>
  );
}

/** When a way by rule is taken: if its rule holds, or otherwise. */
function WhenAt({ study, at, link }: { study: StudyDocument; at: At; link: Link }) {
  const set = (value: string) =>
    edit("Change a rule", (draft) => {
      setAt(draft, within(at, "otherwise"), value === "otherwise" ? true : undefined);
      setAt(draft, within(at, "when"), value === "otherwise" ? undefined : { all: [freshCondition(study)] });
    });
  return (
    <>
      <Choice
        at={within(at, "otherwise")}
        label="When this way is taken"
        value={link.when ? "if" : "otherwise"}
        options={[
          { value: "if", label: "if" },
          { value: "otherwise", label: "otherwise" },
        ]}
        onChoose={set}
      />{" "}
      {link.when && <RuleAt at={within(at, "when")} />}
    </>
  );
}

/** How long a way takes, and who goes along. */
function TravelAt({ study, at, place }: { study: StudyDocument; at: At; place: number }) {
  const travel = useField<unknown>(within(at, "travel"));
  const escort = useField<Need>(within(at, "escort"));
  return (
    <>
      <Optional at={within(at, "travel")} offer="at once" fresh="1 min">
        {study.site?.places?.length || travel.value === "walk" ? (
          <>
            <Choice
              label={`Travel of way ${place + 1}`}
              value={travel.value === "walk" ? "walk" : "time"}
              options={[
                { value: "time", label: "in a time" },
                { value: "walk", label: "on foot, by the site plan" },
              ]}
              onChoose={(form) => travel.set(form === "walk" ? "walk" : "1 min")}
            />{" "}
          </>
        ) : null}
        {travel.value !== "walk" && <DistributionAt at={within(at, "travel")} label={`Travel time of way ${place + 1}`} verb="in" />}
      </Optional>
      {travel.value !== undefined && (
        <Optional at={within(at, "escort")} offer="alone" fresh={{ team: study.teams[0]?.id ?? "" }}>
          with {escort.value && <NeedAt study={study} at={within(at, "escort")} need={escort.value} place={0} />}
        </Optional>
      )}
    </>
  );
}

function SharesSum({ sums }: { sums: number[] }) {
  const off = sums.find((sum) => Math.abs(sum - 1) > 1e-9);
  if (sums.length === 0) return null;
  return <span className={off === undefined ? "text-ink-2" : "font-semibold text-wrong"}>{round((off ?? 1) * 100)} %</span>;
}
