import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { X } from "lucide-react";
import { useState } from "react";
import { toast } from "sonner";
import { api, ask, type Schemas } from "../api/client";
import { isDrawnAgain } from "../api/queries";
import { FigurePicker } from "../fields/FigurePicker";
import { TargetDialog } from "../fields/TargetDialog";
import { saveNow } from "../study/session/autosave";
import { edit, useStudy } from "../study/session/store";
import { withInterval } from "../study/values/figures";
import { scaleOf } from "../study/values/scales";
import { IconButton } from "../ui/IconButton";
import { LINK_BUTTON, Menu } from "../ui/Menu";
import { Picture } from "../ui/Picture";
import { pin, unpin } from "./board";
import { MeasureEditor } from "./MeasureEditor";
import { FORMS, type Measure, makeMeasure } from "./measures";
import type { Shown } from "./shown";

type OwnFigure = Schemas["OwnFigure"];

/** The figures that the analyst chose to see, and those made from parts; both are kept with the study. */
export function OwnView({ shown }: { shown: Shown | undefined }) {
  const own = useOwnFigures(shown);
  return (
    <>
      <Board figures={own?.board ?? []} />
      <Measures shown={shown} told={own?.measures ?? []} />
    </>
  );
}

function useOwnFigures(shown: Shown | undefined) {
  const version = useStudy((state) => state.version);
  const { id = 0, redrawn } = shown?.run ?? {};
  const { scenario, done } = shown?.part ?? {};
  return useQuery({
    queryKey: ["own", id, redrawn === null, scenario, done, version],
    enabled: shown !== undefined,
    placeholderData: (before) => before,
    queryFn: () => ask(api.GET("/api/runs/{run_id}/own-figures", { params: { path: { run_id: id }, query: { scenario } } })),
  }).data;
}

function Board({ figures }: { figures: OwnFigure[] }) {
  const board = useStudy((state) => state.document.board) ?? [];
  const pinned = board.map((address) => figures.find((each) => each.address === address) ?? { address, title: null, figure: null });
  return (
    <Picture title="Board" aside="figures pinned to this study" table={() => tableOf(pinned)} isDrawn={false}>
      {pinned.length > 0 && (
        <ul className="grid grid-cols-[repeat(auto-fill,minmax(13rem,1fr))] gap-3">
          {pinned.map((each) => (
            <Tile key={each.address} own={each} />
          ))}
        </ul>
      )}
      {pinned.length === 0 && <p className="py-1 text-ink-2">Pin the figures that this study is about, and every run tells them here.</p>}
      <div className="pt-2">
        <FigurePicker
          label="Pin a figure"
          trigger="Pin a figure"
          className={LINK_BUTTON}
          onPick={({ address, title }) => pin(address, title.name)}
        />
      </div>
    </Picture>
  );
}

function Tile({ own: { address, title, figure } }: { own: OwnFigure }) {
  const name = title?.name ?? address;
  return (
    <li className="relative rounded-md border border-rule p-2.5" data-figure={address}>
      <span className="absolute top-1 right-1">
        <IconButton label={`Take off the board: ${name}`} icon={X} onClick={() => unpin(address, name)} />
      </span>
      <p className="pr-6 text-sm font-semibold">{name}</p>
      <p className="text-2xl leading-9">{title ? <Amount title={title} figure={figure} /> : "–"}</p>
      <p className="text-sm text-ink-2">{title?.of ?? "is not known of this run"}</p>
    </li>
  );
}

function Amount({ title, figure }: { title: Schemas["Title"]; figure: Schemas["Estimate"] | null }) {
  const { mean, half } = withInterval(figure ?? undefined, scaleOf(title).factor);
  return (
    <>
      <b>{mean}</b> <span className="text-sm text-ink-2">{half}</span>
    </>
  );
}

function Measures({ shown, told }: { shown: Shown | undefined; told: Schemas["ToldMeasure"][] }) {
  const measures = useStudy((state) => state.document.measures) ?? [];
  const figures = told.flatMap((each) => each.figures);
  const lacks = shown !== undefined && measures.some(({ id }) => !told.find((each) => each.id === id)?.is_told);
  return (
    <Picture
      className="mt-6"
      title="Own measures"
      aside="made from parts, told by every run"
      table={() => tableOf(figures)}
      isDrawn={false}
    >
      <ul>
        {measures.map((measure) => (
          <MeasureRow key={measure.id} measure={measure} told={told.find((each) => each.id === measure.id)} />
        ))}
      </ul>
      {measures.length === 0 && (
        <p className="py-1 text-ink-2">
          What no figure tells can be asked: the share of cases that waited under 12 minutes and came once, the longest line over noon.
        </p>
      )}
      <div className="flex flex-wrap items-baseline gap-x-6 gap-y-2 pt-3">
        <Menu
          trigger="Make a measure"
          items={FORMS.map(({ value, offer }) => ({
            label: offer,
            onChoose: () => edit("New measure", (study) => void makeMeasure(study, value)),
          }))}
        />
        {lacks && shown && <WorkOut shown={shown} />}
      </div>
    </Picture>
  );
}

/** Has a run that was made before its measures drawn again from its seed. */
function WorkOut({ shown: { run } }: { shown: Shown }) {
  const client = useQueryClient();
  const again = () => client.invalidateQueries({ queryKey: ["runs", run.study] });
  const onError = (error: Error) => toast.error(error.message);
  const params = { params: { path: { run_id: run.id } } };
  const begin = useMutation({
    mutationFn: async () => {
      await saveNow();
      return ask(api.POST("/api/runs/{run_id}/measures", params));
    },
    onSuccess: again,
    onError,
  });
  const stop = useMutation({ mutationFn: () => ask(api.DELETE("/api/runs/{run_id}/measures", params)), onSuccess: again, onError });
  if (isDrawnAgain(run)) {
    return (
      <p role="status" className="text-sm text-ink-2">
        Being worked out: {Math.round(100 * (run.redrawn?.share ?? 0))} %{" "}
        <button type="button" className={LINK_BUTTON} disabled={stop.isPending} onClick={() => stop.mutate()}>
          Stop
        </button>
      </p>
    );
  }
  return (
    <p className="text-sm text-ink-2">
      <button type="button" className={LINK_BUTTON} disabled={begin.isPending} onClick={() => begin.mutate()}>
        Work it out for this run
      </button>{" "}
      {run.redrawn?.problem ? (
        <span className="text-wrong">{run.redrawn.problem}</span>
      ) : (
        "It was made before the measure was as it is now. It is drawn again from its seed, and all else stays the same."
      )}
    </p>
  );
}

function MeasureRow({ measure, told }: { measure: Measure; told: Schemas["ToldMeasure"] | undefined }) {
  const [wanted, setWanted] = useState<OwnFigure | null>(null);
  const drop = () =>
    edit(`Delete ${measure.name}`, (study) => {
      study.measures = study.measures?.filter(({ id }) => id !== measure.id);
    });
  return (
    <li aria-label={measure.name} className="flex items-start gap-6 border-t border-rule py-2">
      <div className="min-w-0 flex-1">
        <MeasureEditor measure={measure} />
      </div>
      <div className="w-60 shrink-0 text-right leading-[1.9rem]">
        {told?.figures.map((own) => (
          <p key={own.address} data-figure={own.address} className="leading-6">
            {own.title && <Amount title={own.title} figure={own.figure} />}
            <span className="block text-sm text-ink-2">{own.title?.of}</span>
          </p>
        ))}
        {told?.figures[0]?.title && (
          <button type="button" className={LINK_BUTTON} onClick={() => setWanted(told.figures[0] ?? null)}>
            Target
          </button>
        )}
      </div>
      <IconButton label={`Delete the measure ${measure.name}`} icon={X} onClick={drop} />
      {wanted?.title && <TargetDialog row={{ address: wanted.address, title: wanted.title }} onClose={() => setWanted(null)} />}
    </li>
  );
}

function tableOf(figures: OwnFigure[]) {
  return {
    head: ["Figure", "of it", "mean", "half-width", "low", "high", "address"],
    rows: figures.map(({ address, title, figure }) => [
      title?.name ?? address,
      title?.of ?? "",
      figure?.mean ?? null,
      figure?.half_width ?? null,
      figure?.low ?? null,
      figure?.high ?? null,
      address,
    ]),
  };
}
