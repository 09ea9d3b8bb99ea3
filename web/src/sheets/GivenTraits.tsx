import { OFFER, TakeAway } from "../fields/Optional";
import { TraitValueAt, withoutUsed } from "../fields/TraitValueAt";
import { useField, write } from "../fields/useField";
import { type At, within } from "../study/document/addresses";
import { nameOf } from "../study/document/parts";
import type { StudyDocument } from "../study/document/types";

/** Traits that are given where they stand: to a case type's cases, or to those of a stream. */
export function GivenTraits({ study, at, whose }: { study: StudyDocument; at: At; whose: string }) {
  const field = useField<Record<string, unknown>>(at);
  const given = Object.keys(field.value ?? {});
  return (
    <div>
      {given.map((id) => (
        <div key={id} className="flex items-start gap-1">
          <div className="min-w-0 flex-1">
            <TraitValueAt study={study} at={within(at, id)} trait={id} />
          </div>
          <TakeAway
            at={within(at, id)}
            label={`No ${nameOf(study, "trait", id)} of its own`}
            onClick={() => write(within(at, id), undefined)}
          />
        </div>
      ))}
      {withoutUsed(study, field.value).map((trait) => (
        <div key={trait.id}>
          <button
            type="button"
            className={OFFER}
            data-sets={within(at, trait.id)}
            onClick={() => write(within(at, trait.id), trait.start ?? trait.values?.[0] ?? 0)}
          >
            {trait.name} {whose}
          </button>
        </div>
      ))}
    </div>
  );
}
