_shtab_bright_tether_subparsers=(analyse rehearse report hand-over differences install-desktop remove-desktop)

_shtab_bright_tether_analyse_option_strings=(-h --help --x --y --alternative --alpha --level --at --dates --per --since --mean-of --decide --slope-0 --intercept-0 --group --second-response --rows-are --with --along --choices --choices-of --margin --order --weights --weight-pattern --new-weight --no-intercept --errors --cluster --error-ratio --inverse-at --width --widths --local --agreement --resample --seed --rows --engine --scheduler --memory --share --table --readings --format)
_shtab_bright_tether_rehearse_option_strings=(-h --help --x --y --from --count --with --samples --seed --judge --level --at --true-intercept --true-slope --true-sd --pairs --shape --pattern --alike --design --format)
_shtab_bright_tether_report_option_strings=(-h --help -o --output --style --evidence --engine --scheduler --memory)
_shtab_bright_tether_hand_over_option_strings=(-h --help -o --output --engine --scheduler --memory)
_shtab_bright_tether_differences_option_strings=(-h --help)
_shtab_bright_tether_install_desktop_option_strings=(-h --help)
_shtab_bright_tether_remove_desktop_option_strings=(-h --help)
_shtab_bright_tether_option_strings=(-h --help --version --demo)

_shtab_bright_tether_analyse_pos_0_COMPGEN=_shtab_compgen_files
_shtab_bright_tether_rehearse_pos_0_COMPGEN=_shtab_compgen_files
_shtab_bright_tether_report_pos_0_COMPGEN=_shtab_compgen_files
_shtab_bright_tether_report__o_COMPGEN=_shtab_compgen_files
_shtab_bright_tether_report___output_COMPGEN=_shtab_compgen_files
_shtab_bright_tether_hand_over_pos_0_COMPGEN=_shtab_compgen_files
_shtab_bright_tether_differences_pos_0_COMPGEN=_shtab_compgen_files
_shtab_bright_tether_differences_pos_1_COMPGEN=_shtab_compgen_files

_shtab_bright_tether_analyse___alternative_choices=(two-sided greater less)
_shtab_bright_tether_analyse___dates_choices=(day-first month-first)
_shtab_bright_tether_analyse___per_choices=(seconds minutes hours days weeks years)
_shtab_bright_tether_analyse___decide_choices=(pearson spearman kendall slope)
_shtab_bright_tether_analyse___rows_are_choices=(cases settings)
_shtab_bright_tether_analyse___choices_of_choices=(slope coefficient)
_shtab_bright_tether_analyse___weight_pattern_choices=(inverse-x inverse-x2 inverse-fitted2 power-x power-fitted)
_shtab_bright_tether_analyse___errors_choices=(classical HC0 HC1 HC2 HC3 newey_west clustered)
_shtab_bright_tether_analyse___width_choices=(spread ranks)
_shtab_bright_tether_analyse___engine_choices=(memory duckdb dask)
_shtab_bright_tether_analyse___format_choices=(text json)
_shtab_bright_tether_rehearse___from_choices=(line residuals rows truth)
_shtab_bright_tether_rehearse___count_choices=(slope intercept r r2 forecast)
_shtab_bright_tether_rehearse___judge_choices=(classical HC3 newey_west)
_shtab_bright_tether_rehearse___shape_choices=(normal skewed heavy own)
_shtab_bright_tether_rehearse___pattern_choices=(even fanning)
_shtab_bright_tether_rehearse___design_choices=(kept drawn even normal)
_shtab_bright_tether_rehearse___format_choices=(text json)
_shtab_bright_tether_report___style_choices=(plain compact)
_shtab_bright_tether_report___engine_choices=(memory duckdb dask)
_shtab_bright_tether_hand_over___engine_choices=(memory duckdb dask)
_shtab_bright_tether_pos_0_choices=(analyse rehearse report hand-over differences install-desktop remove-desktop)

_shtab_bright_tether_analyse__h_nargs=0
_shtab_bright_tether_analyse___help_nargs=0
_shtab_bright_tether_analyse___choices_nargs=0
_shtab_bright_tether_analyse___no_intercept_nargs=0
_shtab_bright_tether_analyse___widths_nargs=0
_shtab_bright_tether_analyse___local_nargs='?'
_shtab_bright_tether_analyse___agreement_nargs=0
_shtab_bright_tether_analyse___rows_nargs=0
_shtab_bright_tether_analyse___readings_nargs=0
_shtab_bright_tether_rehearse__h_nargs=0
_shtab_bright_tether_rehearse___help_nargs=0
_shtab_bright_tether_report__h_nargs=0
_shtab_bright_tether_report___help_nargs=0
_shtab_bright_tether_report___evidence_nargs=0
_shtab_bright_tether_hand_over__h_nargs=0
_shtab_bright_tether_hand_over___help_nargs=0
_shtab_bright_tether_differences__h_nargs=0
_shtab_bright_tether_differences___help_nargs=0
_shtab_bright_tether_install_desktop__h_nargs=0
_shtab_bright_tether_install_desktop___help_nargs=0
_shtab_bright_tether_remove_desktop__h_nargs=0
_shtab_bright_tether_remove_desktop___help_nargs=0
_shtab_bright_tether_pos_0_nargs=A...
_shtab_bright_tether__h_nargs=0
_shtab_bright_tether___help_nargs=0
_shtab_bright_tether___version_nargs=0
_shtab_bright_tether___demo_nargs=0


_shtab_compgen_files() {
  compgen -f -- $1  # files
}

_shtab_compgen_dirs() {
  compgen -d -- $1  # recurse into subdirs
}

_shtab_replace_nonword() {
  echo "${1//[^[:word:]]/_}"
}

_set_parser_defaults() {
  local subparsers_var="${prefix}_subparsers[@]"
  sub_parsers=${!subparsers_var-}

  local current_option_strings_var="${prefix}_option_strings[@]"
  current_option_strings=${!current_option_strings_var}

  completed_positional_actions=0

  _set_new_action "pos_$completed_positional_actions" true
}

_set_new_action() {
  current_action="${prefix}_$(_shtab_replace_nonword $1)"

  local current_action_compgen_var=${current_action}_COMPGEN
  current_action_compgen="${!current_action_compgen_var-}"

  local current_action_choices_var="${current_action}_choices[@]"
  current_action_choices="${!current_action_choices_var-}"

  local current_action_nargs_var="${current_action}_nargs"
  if [ -n "${!current_action_nargs_var-}" ]; then
    current_action_nargs="${!current_action_nargs_var}"
  else
    current_action_nargs=1
  fi

  current_action_args_start_index=$(( $word_index + 1 - $pos_only ))

  current_action_is_positional=$2
}

_shtab_bright_tether() {
  local completing_word="${COMP_WORDS[COMP_CWORD]}"
  local previous_word="${COMP_WORDS[COMP_CWORD-1]}"
  local completed_positional_actions
  local current_action
  local current_action_args_start_index
  local current_action_choices
  local current_action_compgen
  local current_action_is_positional
  local current_action_nargs
  local current_option_strings
  local sub_parsers
  COMPREPLY=()

  local prefix=_shtab_bright_tether
  local word_index=0
  local pos_only=0 # "--" delimiter not encountered yet
  _set_parser_defaults
  word_index=1

  # determine what arguments are appropriate for the current state
  # of the arg parser
  while [ $word_index -ne $COMP_CWORD ]; do
    local this_word="${COMP_WORDS[$word_index]}"

    if [[ $pos_only = 1 || " $this_word " != " -- " ]]; then
      if [[ -n $sub_parsers && " ${sub_parsers[@]} " == *" $this_word "* ]]; then
        # valid subcommand: add it to the prefix & reset the current action
        prefix="${prefix}_$(_shtab_replace_nonword $this_word)"
        _set_parser_defaults
      fi

      if [[ " ${current_option_strings[@]} " == *" $this_word "* ]]; then
        # a new action should be acquired (due to recognised option string or
        # no more input expected from current action);
        # the next positional action can fill in here
        _set_new_action $this_word false
      fi

      if [[ "$current_action_nargs" != "*" ]] && \
         [[ "$current_action_nargs" != "+" ]] && \
         [[ "$current_action_nargs" != "?" ]] && \
         [[ "$current_action_nargs" != *"..." ]] && \
         (( $word_index + 1 - $current_action_args_start_index - $pos_only >= \
            $current_action_nargs )); then
        $current_action_is_positional && let "completed_positional_actions += 1"
        _set_new_action "pos_$completed_positional_actions" true
      fi
    else
      pos_only=1 # "--" delimiter encountered
    fi

    let "word_index+=1"
  done

  # Generate the completions

  COMPREPLY=()
  if [[ $pos_only = 0 && "$completing_word" == -* &&
        ( -z "$current_action_compgen" || "$current_action_is_positional" = true ) ]]; then
    # optional argument started: use option strings
    while IFS= read -r line; do COMPREPLY+=("$line"); done < <(
      compgen -W "${current_option_strings[*]}" -- "$completing_word")
  elif [[ "$previous_word" =~ ^[0-9\&]*[\<\>]\>?$ ]]; then
    # handle redirection operators
    compopt -o filenames 2>/dev/null || : # bash>=4
    while IFS= read -r line; do COMPREPLY+=("$line"); done < <(compgen -f -- "$completing_word")
  else
    # use choices & compgen
    local action_compgen_word="$completing_word"
    # handle tab-completing in the middle of a line (#248 <- #116)
    [[ -n "$current_action_compgen" && "$completing_word" == -* ]] && action_compgen_word=""
    [ -n "$current_action_compgen" ] && {
      [[ "$current_action_compgen" =~ _(file|dir|glob|FILE|DIR|GLOB)|File|Dir|Glob ]] &&
        compopt -o filenames 2>/dev/null || : # bash>=4
      while IFS= read -r line; do COMPREPLY+=("$line"); done < <(
        "$current_action_compgen" "$action_compgen_word")
    }
    while IFS= read -r line; do COMPREPLY+=("$line"); done < <(
      compgen -W "${current_action_choices[*]}" -- "$completing_word")
  fi

  if [[ ${#COMPREPLY[@]} = 0 ]]; then
    # native fallback matches are not necessarily filenames (e.g. variables)
    compopt +o filenames 2>/dev/null || : # bash>=4
  fi

  return 0
}

complete -o bashdefault -o default -F _shtab_bright_tether bright-tether
