import { useRef, useState } from "react";
import { useSearchParams } from "react-router";
import { isSearching, type Search, useAnswer, useSearches } from "../api/queries";
import { useWanted } from "../fields/useWanted";
import { editWhole, useStudy } from "../study/session/store";
import { Choice } from "../ui/Choice";
import { MAIN_BUTTON } from "../ui/Menu";
import { addSizing } from "./addSizing";
import { Found } from "./Found";
import { NothingAsked } from "./NothingAsked";
import { SearchProgress } from "./SearchProgress";
import { SizingSheet } from "./SizingSheet";
import type { Sizing } from "./sizings";
import { useStartSearch, useSteering } from "./useSearch";

const NEW = "+new";

/** Which staffing is the cheapest that keeps the targets: what must hold and may change in the sheet, the answer beside it. */
export function RightSizeScreen() {
  const sheet = useRef<HTMLElement>(null);
  const { sizing, choose } = useSizing();
  useWanted(sheet);
  const remove = () => {
    if (!sizing) return;
    editWhole(`Delete the search ${sizing.name}`, (study) => {
      study.sizing = study.sizing?.filter((each) => each.id !== sizing.id);
      if (study.sizing?.length === 0) delete study.sizing;
    });
    choose(null);
  };
  if (!sizing) return <NothingAsked onAsk={choose} />;
  return (
    <div className="flex h-full min-h-0">
      <main className="min-w-0 flex-1 overflow-y-auto px-6.5 py-4">
        <SearchesOf key={sizing.id} sizing={sizing} onChoose={choose} />
      </main>
      <SizingSheet ref={sheet} sizing={sizing} onDelete={remove} />
    </div>
  );
}

/** The search that is looked at, by the address of the page; the first where that names none. */
function useSizing(): { sizing: Sizing | undefined; choose: (id: string | null) => void } {
  const sizings = useStudy((state) => state.document.sizing) ?? [];
  const [params, setParams] = useSearchParams();
  const wanted = params.get("search");
  const sizing = sizings.find((each) => each.id === wanted) ?? sizings[0];
  return { sizing, choose: (id) => setParams(id ? { search: id } : {}, { replace: true }) };
}

/** What was found for a question to right-sizing, or how far it is. */
function SearchesOf({ sizing, onChoose }: { sizing: Sizing; onChoose: (id: string) => void }) {
  const id = useStudy((state) => state.id);
  const version = useStudy((state) => state.version);
  const scenario = useStudy((state) => state.scenario) ?? "";
  const problems = useStudy((state) => state.problems);
  const searches = useSearches(id, version);
  const start = useStartSearch();
  const [shown, setShown] = useState<number | null>(null);
  const mine = (searches.data ?? []).filter((each) => each.sizing === sizing.id && each.scenario === scenario);
  const going = mine.find(isSearching);
  const search = mine.find((each) => each.id === shown) ?? mine.find((each) => each !== going);
  const found = useAnswer(search);
  const errors = problems.filter((each) => each.level === "error" || each.where.startsWith(`sizing/${sizing.id}`));
  const begin = () => {
    setShown(null);
    start.mutate(sizing.id);
  };
  return (
    <>
      <h1 className="sr-only">Right-size</h1>
      <div className="mb-2 flex flex-wrap items-center gap-x-4 gap-y-1 text-sm text-ink-2">
        <SizingChoice sizing={sizing} onChoose={onChoose} />
        {mine.length > 0 && <SearchChoice searches={mine} shown={search ?? going} onChoose={setShown} />}
        <button
          type="button"
          className={`${MAIN_BUTTON} ml-auto`}
          onClick={begin}
          disabled={start.isPending || going !== undefined || errors.length > 0}
        >
          {mine.length > 0 ? "Search again" : "Search"}
        </button>
      </div>
      {errors.length > 0 && (
        <p className="text-sm text-wrong">
          {errors[0]?.what} {errors[0]?.mend}
        </p>
      )}
      {going && <SearchProgress search={going} />}
      {search && <Standing search={search} />}
      {search && found.data && <Found key={search.id} answer={found.data} search={search} />}
      {found.isError && <p className="text-wrong">{found.error.message}</p>}
      {searches.data && mine.length === 0 && <BeforeTheFirst />}
    </>
  );
}

function BeforeTheFirst() {
  return (
    <p className="mt-4 max-w-xl text-ink-2">
      On the right stand what must hold and what may change. <b className="text-ink">Search</b> looks for the fewest that are needed in
      every interval of the week, covers that with shifts, tries these in the simulation, takes off what is not needed, and says how sure it
      is. That takes a minute or two.
    </p>
  );
}

/** Whether what a search says still holds, and what became of one that did not come to its end. */
function Standing({ search }: { search: Search }) {
  const { goOn, remove } = useSteering(search);
  const link = "font-semibold underline underline-offset-4 hover:decoration-marker";
  return (
    <p className="mb-1 text-sm text-ink-2">
      {search.problem && <span className="text-wrong">{search.problem} </span>}
      {!search.is_current && <b className="text-ink">The study has changed since this search. </b>}
      {search.state === "stopped" && <b className="text-ink">Stopped before its end. </b>}
      {search.can_go_on && (
        <button type="button" className={`${link} mr-3`} onClick={() => goOn.mutate()}>
          Go on with it
        </button>
      )}
      {(search.state === "failed" || search.state === "stopped" || !search.is_current) && (
        <button type="button" className={link} onClick={() => remove.mutate()}>
          Delete it
        </button>
      )}
    </p>
  );
}

/** Which question to right-sizing is looked at, where there are several; and one more. */
function SizingChoice({ sizing, onChoose }: { sizing: Sizing; onChoose: (id: string) => void }) {
  const study = useStudy((state) => state.document);
  const sizings = study.sizing ?? [];
  const add = () => {
    const taken = sizings.flatMap((each) => each.teams?.map(({ team }) => team) ?? []);
    const team = study.teams.find((each) => !taken.includes(each.id)) ?? study.teams[0];
    onChoose(addSizing(team ? [team] : []));
  };
  return (
    <Choice
      quiet
      label="Question to right-sizing"
      value={sizing.id}
      options={[...sizings.map(({ id, name }) => ({ value: id, label: name })), { value: NEW, label: "Another search", separated: true }]}
      onChoose={(id) => (id === NEW ? add() : onChoose(id))}
    />
  );
}

interface SearchChoiceProps {
  searches: Search[];
  shown: Search | undefined;
  onChoose: (id: number) => void;
}

/** Which of the searches so far is looked at. */
function SearchChoice({ searches, shown, onChoose }: SearchChoiceProps) {
  if (searches.length < 2) return null;
  const words = (search: Search) =>
    `Search ${search.number}, ${new Date(search.created_at).toLocaleString("en-GB", { dateStyle: "medium", timeStyle: "short" })}`;
  return (
    <Choice
      quiet
      label="Search"
      value={String(shown?.id ?? "")}
      options={searches.map((search) => ({ value: String(search.id), label: words(search) }))}
      onChoose={(id) => onChoose(Number(id))}
    />
  );
}
