import { useId } from "react";
import { type FormProps, Form as RouterForm, useRouteLoaderData } from "react-router";
import { useMay } from "./useMay";

/**
 * A form of the lane. One that changes something bears a mark of its own: sent twice, by a second click or a reload, it is
 * taken once. Whoever may not change it reads it without its buttons.
 */
export function Form(props: FormProps) {
  const { children, method, ...rest } = props;
  const marks = useRouteLoaderData("root") as { readonly mark: string } | undefined;
  const may = useMay();
  const id = useId();
  if (method === "post" && !may("POST", props.action))
    return (
      <div className={props.className}>
        <fieldset disabled className="contents only-read">
          {children}
        </fieldset>
      </div>
    );
  return (
    <RouterForm method={method} {...rest}>
      {method === "post" && marks && (
        <input type="hidden" name="once" value={`${marks.mark}${id.replace(/\W/g, "-")}`} />
      )}
      {children}
    </RouterForm>
  );
}
