import { DeleteSection } from "../fields/DeleteButton";
import { Optional } from "../fields/Optional";
import { PartTitle } from "../fields/PartTitle";
import { NumberAt } from "../fields/ValueAt";
import { within } from "../study/document/addresses";
import { useStudy } from "../study/session/store";
import { Section } from "../ui/Section";

/** A place of the site plan: where it is, and how many cases have room there. */
export function PlaceSheet({ id }: { id: string }) {
  const study = useStudy((state) => state.document);
  const place = study.site?.places?.find((each) => each.id === id);
  if (!place) return null;
  const at = `site/places/${id}`;
  const here = study.steps.filter((step) => step.place === id || step.places?.some((option) => option.place === id));
  return (
    <>
      <PartTitle at={at} kind="Place" />
      <Section title="Where it is">
        <p className="leading-[1.9rem]">
          <NumberAt at={within(at, "x")} label="Metres to the right" low={-1e6} high={1e6} suffix="m" /> to the right and{" "}
          <NumberAt at={within(at, "y")} label="Metres down" low={-1e6} high={1e6} suffix="m" /> down.
        </p>
        <Optional at={within(at, "capacity")} offer="any number have room there" fresh={20}>
          Room for <NumberAt at={within(at, "capacity")} label="Room for" low={1} high={1e6} whole /> cases.
        </Optional>
      </Section>
      <Section title="What happens there">
        <p>
          {here.map((step) => step.name).join(", ") || <span className="text-ink-2">Nothing yet. Open a step and let it happen here.</span>}
        </p>
      </Section>
      <DeleteSection kind="place" id={id} />
    </>
  );
}
